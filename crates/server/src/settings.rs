//! What an installation may set.

use std::net::IpAddr;
use std::path::PathBuf;

use axum::http::HeaderMap;
use ipnet::IpNet;

/// Settings of a server.
#[derive(Debug, Clone, Default)]
pub struct Settings {
    /// Proxies whose word is taken for where a request came from (`X-Forwarded-For`). Without any, a
    /// request comes from whoever is connected.
    pub trusted_proxies: Vec<IpNet>,
    /// Notices go out by mail.
    pub sends_mail: bool,
    /// The folder below which folders are watched for tables.
    pub tables: Option<PathBuf>,
    /// Connections open at once. Default: what the limit of open files leaves.
    pub connections: Option<usize>,
}

impl Settings {
    /// Whether an address is that of a trusted proxy.
    pub(crate) fn trusts(&self, address: IpAddr) -> bool {
        self.trusted_proxies.iter().any(|net| net.contains(&address.to_canonical()))
    }

    /// Where a request came from that `peer` brought: the nearest address that is no trusted proxy. What stands further
    /// left in the header anybody can have written.
    pub fn client_behind(&self, peer: IpAddr, headers: &HeaderMap) -> IpAddr {
        if !self.trusts(peer) {
            return peer;
        }
        let told: Vec<&str> = headers
            .get_all("x-forwarded-for")
            .iter()
            .filter_map(|value| value.to_str().ok())
            .flat_map(|value| value.split(','))
            .collect();
        let addresses = told.iter().rev().map_while(|address| address.trim().parse::<IpAddr>().ok());
        addresses.into_iter().find(|address| !self.trusts(*address)).unwrap_or(peer)
    }
}
