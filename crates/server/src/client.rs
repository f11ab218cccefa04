//! Where a request came from.

use std::convert::Infallible;
use std::net::{IpAddr, Ipv4Addr, Ipv6Addr, SocketAddr};

use axum::extract::{ConnectInfo, FromRequestParts};
use axum::http::request::Parts;

use crate::app::App;

/// The address that a request came from.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Client(pub IpAddr);

impl FromRequestParts<App> for Client {
    type Rejection = Infallible;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Infallible> {
        let peer = parts.extensions.get::<ConnectInfo<SocketAddr>>().map(|ConnectInfo(peer)| peer.ip());
        let peer = peer.unwrap_or(IpAddr::V4(Ipv4Addr::UNSPECIFIED));
        Ok(Self(app.settings.client_behind(peer, &parts.headers)))
    }
}

/// Whom an address stands for: one household of IPv6 has as many addresses as it likes.
pub fn place(address: IpAddr) -> IpAddr {
    match address.to_canonical() {
        IpAddr::V6(address) => IpAddr::V6(Ipv6Addr::from(u128::from(address) >> 64 << 64)),
        address => address,
    }
}
