//! What a device can be set up as.

use quality::device::{Address, Link, Make, Opens, Payload, ResultMapping, WatchedFolder};
use quality::setup::SetUpRefusal;
use rstest::rstest;
use uuid::Uuid;

fn gauge(at: &str) -> Link {
    Link::Gauge { address: Address { opens: Opens::Server, at: at.into() } }
}

fn analyser(results: &[(&str, &str)]) -> Link {
    let mapping = |&(specimen, test): &(&str, &str)| ResultMapping {
        specimen: specimen.into(),
        test: test.into(),
        characteristic: Uuid::from_u128(1),
    };
    let address = Address { opens: Opens::Device, at: "0.0.0.0:4002".into() };
    Link::Analyser { address, results: results.iter().map(mapping).collect() }
}

fn sensor(topic: &str, value: &str, make: Make) -> Link {
    Link::Sensor {
        broker: "hall:1883".into(),
        topic: topic.into(),
        payload: Payload { value: value.into(), unit: None, at: None, id: Some("/n".into()) },
        characteristic: Uuid::from_u128(1),
        make,
        round: false,
    }
}

fn display(charts: u32, seconds: u32) -> Link {
    Link::Display { charts, seconds, dark: true }
}

fn folder(name: &str, list: Option<&str>) -> Link {
    Link::Folder(WatchedFolder {
        folder: name.into(),
        recipe: Uuid::from_u128(2),
        characteristic: Uuid::from_u128(1),
        list: list.map(str::to_owned),
        without_tags: vec![],
        only_right: false,
        follows: false,
    })
}

#[rstest]
#[case::folder(folder("kiln-2_a.old", None))]
#[case::folder_of_one_list(folder("kiln", Some("Kiln log, all years")))]
#[case::ingest(Link::Ingest)]
#[case::display(display(4, 12))]
#[case::display_of_one_chart(display(1, 300))]
#[case::gauge(gauge("192.0.2.7:4001"))]
#[case::gauge_by_name(gauge("box-7.hall:4001"))]
#[case::gauge_ipv6(gauge("[2001:db8::7]:4001"))]
#[case::analyser(analyser(&[("K-1", "AG"), ("K-1", "TU"), ("K-2", "AG")]))]
#[case::sensor(sensor("hall/kiln", "/value", Make::Every(1)))]
#[case::sensor_whole_payload(sensor("hall/kiln", "", Make::Bucket(86_400)))]
fn what_is_whole_can_be_set_up(#[case] link: Link) {
    assert_eq!(link.check(), Ok(()));
}

#[rstest]
#[case::no_folder(folder("", None), "folder")]
#[case::way_up(folder("..", None), "folder")]
#[case::hidden(folder(".ssh", None), "folder")]
#[case::two_steps(folder("kiln/2", None), "folder")]
#[case::other_steps(folder("kiln\\2", None), "folder")]
#[case::absolute(folder("/etc", None), "folder")]
#[case::zero(folder("kiln\u{0}", None), "folder")]
#[case::list_without_name(folder("kiln", Some("")), "list")]
#[case::no_port(gauge("192.0.2.7"), "address")]
#[case::port_zero(gauge("192.0.2.7:0"), "address")]
#[case::port_too_large(gauge("192.0.2.7:65536"), "address")]
#[case::no_host(gauge(":4001"), "address")]
#[case::control_character(gauge("box\u{7}:4001"), "address")]
#[case::far_too_long(gauge(&format!("{}:4001", "x".repeat(300))), "address")]
#[case::nothing_mapped(analyser(&[]), "results")]
#[case::mapped_twice(analyser(&[("K-1", "AG"), ("K-1", "AG")]), "results")]
#[case::no_specimen(analyser(&[(" ", "AG")]), "results")]
#[case::many_topics(sensor("hall/+", "/value", Make::Every(1)), "topic")]
#[case::all_topics(sensor("#", "/value", Make::Every(1)), "topic")]
#[case::no_topic(sensor("", "/value", Make::Every(1)), "topic")]
#[case::no_pointer(sensor("hall", "value", Make::Every(1)), "payload")]
#[case::display_without_a_chart(display(0, 12), "charts")]
#[case::display_of_too_many(display(10, 12), "charts")]
#[case::display_too_fast(display(4, 4), "seconds")]
#[case::display_too_slow(display(4, 301), "seconds")]
#[case::every_none(sensor("hall", "/value", Make::Every(0)), "make")]
#[case::too_seldom(sensor("hall", "/value", Make::Every(100_001)), "make")]
#[case::bucket_without_time(sensor("hall", "/value", Make::Bucket(0)), "make")]
#[case::bucket_of_more_than_a_day(sensor("hall", "/value", Make::Bucket(86_401)), "make")]
fn what_cannot_be_is_named(#[case] link: Link, #[case] field: &str) {
    let Err(SetUpRefusal::Fields(wrong)) = link.check() else { panic!("{field} is refused") };
    assert_eq!(wrong.iter().map(|w| w.field).collect::<Vec<_>>(), [field], "{wrong:?}");
}

#[rstest]
#[case::unknown_kind(r#"{"kind": "telepathy"}"#)]
#[case::no_address(r#"{"kind": "gauge"}"#)]
#[case::two_ways_of_making(r#"{"every": 2, "bucket": 3}"#)]
fn what_is_no_link_is_not_read(#[case] json: &str) {
    assert!(serde_json::from_str::<Link>(json).is_err());
    assert!(serde_json::from_str::<Make>(json).is_err());
}

#[test]
fn a_device_stays_of_the_kind_it_was_set_up_as() {
    assert_eq!(gauge("192.0.2.7:4001").may_become(&gauge("192.0.2.8:4001")), Ok(()));
    let refused = gauge("192.0.2.7:4001").may_become(&Link::Ingest);
    assert!(matches!(refused, Err(SetUpRefusal::Fields(wrong)) if wrong[0].field == "kind"));
}
