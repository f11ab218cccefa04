//! What an installation may set.

use std::net::IpAddr;
use std::path::PathBuf;

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
}
