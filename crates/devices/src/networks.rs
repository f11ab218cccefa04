//! The networks that devices may be on. An address that is set up in Plan must not make the server knock
//! at any door of the house.

use std::net::{IpAddr, SocketAddr};
use std::sync::Arc;

use ipnet::IpNet;
use tokio::net::lookup_host;

/// Where the server may open connections to. Default: its own machine.
#[derive(Debug, Clone)]
pub struct Networks(Arc<[IpNet]>);

/// Why there is no connection to an address.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) enum NotThere {
    /// No such host, for now.
    Unknown,
    /// It is on none of the networks.
    Elsewhere(IpAddr),
}

impl Default for Networks {
    fn default() -> Self {
        Self::new(
            [IpAddr::from([127, 0, 0, 0]), IpAddr::from([0, 0, 0, 0, 0, 0, 0, 1])]
                .into_iter()
                .map(|at| IpNet::new(at, if at.is_ipv4() { 8 } else { 128 }).unwrap_or(IpNet::from(at))),
        )
    }
}

impl Networks {
    /// These and no others.
    pub fn new(networks: impl IntoIterator<Item = IpNet>) -> Self {
        Self(networks.into_iter().collect())
    }

    /// What `address` (host and port) stands for, if the server may connect there.
    pub(crate) async fn find(&self, address: &str) -> Result<SocketAddr, NotThere> {
        let found = lookup_host(address).await.map_err(|_| NotThere::Unknown)?;
        let mut elsewhere = None;
        for at in found {
            let host = at.ip().to_canonical();
            if self.0.iter().any(|net| net.contains(&host)) {
                return Ok(at);
            }
            elsewhere.get_or_insert(host);
        }
        Err(elsewhere.map_or(NotThere::Unknown, NotThere::Elsewhere))
    }
}

#[cfg(test)]
mod tests {
    #![allow(clippy::unwrap_used)]
    use rstest::rstest;

    use super::*;

    #[rstest]
    #[case::own_machine("127.0.0.1:5025", None)]
    #[case::own_machine_by_ipv6("[::1]:5025", None)]
    #[case::written_otherwise("[::ffff:127.0.0.1]:5025", None)]
    #[case::elsewhere("192.0.2.7:5025", Some("192.0.2.7"))]
    #[case::elsewhere_written_otherwise("[::ffff:192.0.2.7]:5025", Some("192.0.2.7"))]
    #[tokio::test]
    async fn the_server_knocks_at_its_own_machine_alone(#[case] address: &str, #[case] elsewhere: Option<&str>) {
        let found = Networks::default().find(address).await;
        assert_eq!(found.err(), elsewhere.map(|host| NotThere::Elsewhere(host.parse().unwrap())));
    }

    #[tokio::test]
    async fn a_network_that_is_named_is_allowed() {
        let networks = Networks::new(["192.0.2.0/24".parse().unwrap()]);
        assert!(networks.find("192.0.2.7:5025").await.is_ok());
        assert!(networks.find("127.0.0.1:5025").await.is_err());
    }
}
