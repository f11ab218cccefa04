//! Where a request came from.

use std::net::IpAddr;

use axum::http::HeaderMap;
use rstest::rstest;
use server::{Settings, place};

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
    assert_eq!(settings.client_behind(peer, &headers), expected);
}

#[test]
fn a_household_is_one_place() {
    let address = |text: &str| text.parse::<IpAddr>().unwrap();
    assert_eq!(place(address("2001:db8::1")), place(address("2001:db8::ffff:2")));
    assert_eq!(place(address("::ffff:192.0.2.1")), address("192.0.2.1"));
}
