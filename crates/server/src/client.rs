//! Where a request came from.

use std::convert::Infallible;
use std::net::{IpAddr, Ipv4Addr, Ipv6Addr, SocketAddr};

use axum::extract::{ConnectInfo, FromRequestParts};
use axum::http::HeaderMap;
use axum::http::request::Parts;

use crate::app::App;
use crate::settings::Settings;

/// The address that a request came from.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Client(pub IpAddr);

impl FromRequestParts<App> for Client {
    type Rejection = Infallible;

    async fn from_request_parts(parts: &mut Parts, app: &App) -> Result<Self, Infallible> {
        let peer = parts.extensions.get::<ConnectInfo<SocketAddr>>().map(|ConnectInfo(peer)| peer.ip());
        let peer = peer.unwrap_or(IpAddr::V4(Ipv4Addr::UNSPECIFIED));
        Ok(Self(behind(peer, &parts.headers, &app.settings)))
    }
}

/// The nearest address that is no trusted proxy. What stands further left in the header anybody can
/// have written.
fn behind(peer: IpAddr, headers: &HeaderMap, settings: &Settings) -> IpAddr {
    if !settings.trusts(peer) {
        return peer;
    }
    let told: Vec<&str> = headers
        .get_all("x-forwarded-for")
        .iter()
        .filter_map(|value| value.to_str().ok())
        .flat_map(|value| value.split(','))
        .collect();
    let addresses = told.iter().rev().map_while(|address| address.trim().parse::<IpAddr>().ok());
    addresses.into_iter().find(|address| !settings.trusts(*address)).unwrap_or(peer)
}

/// Whom an address stands for: one household of IPv6 has as many addresses as it likes.
pub fn place(address: IpAddr) -> IpAddr {
    match address.to_canonical() {
        IpAddr::V6(address) => IpAddr::V6(Ipv6Addr::from(u128::from(address) >> 64 << 64)),
        address => address,
    }
}

#[cfg(test)]
mod tests {
    #![allow(clippy::unwrap_used)]
    use rstest::rstest;

    use super::*;

    #[rstest]
    #[case::no_proxy("203.0.113.9", "198.51.100.1", "203.0.113.9")]
    #[case::proxy("10.0.0.1", "198.51.100.1", "198.51.100.1")]
    #[case::what_the_client_wrote("10.0.0.1", "127.0.0.1, 198.51.100.1", "198.51.100.1")]
    #[case::two_proxies("10.0.0.1", "198.51.100.1, 10.0.0.7", "198.51.100.1")]
    #[case::nothing_readable("10.0.0.1", "unknown", "10.0.0.1")]
    #[case::mapped("::ffff:10.0.0.1", "198.51.100.1", "198.51.100.1")]
    fn a_request_comes_from(#[case] peer: IpAddr, #[case] told: &str, #[case] expected: IpAddr) {
        let mut headers = HeaderMap::new();
        headers.insert("x-forwarded-for", told.parse().unwrap());
        let settings = Settings { trusted_proxies: vec!["10.0.0.0/8".parse().unwrap()], ..Settings::default() };
        assert_eq!(behind(peer, &headers, &settings), expected);
    }

    #[test]
    fn a_household_is_one_place() {
        let address = |text: &str| text.parse::<IpAddr>().unwrap();
        assert_eq!(place(address("2001:db8::1")), place(address("2001:db8::ffff:2")));
        assert_eq!(place(address("::ffff:192.0.2.1")), address("192.0.2.1"));
    }
}
