//! Frames, records, lines and payloads, without any socket.

use chrono::{DateTime, Utc};
use devices::astm::frame::{ENQ, EOT, Event, Receiver, STX, frames};
use devices::astm::record::{AnalyserResult, Message, Outcome};
use devices::gauge::{Line, Lines};
use devices::sensor::{Progress, Reading, value_of};
use quality::device::{Make, Payload, Reason};
use rstest::rstest;

fn events(receiver: &mut Receiver, bytes: &[u8]) -> Vec<Event> {
    let mut events = Vec::new();
    for byte in bytes {
        if let Some(event) = receiver.take(*byte) {
            if matches!(event, Event::Frame(_)) {
                receiver.accept();
            }
            events.push(event);
        }
    }
    events
}

fn opened() -> Receiver {
    let mut receiver = Receiver::default();
    assert_eq!(events(&mut receiver, &[ENQ]), [Event::Enquiry]);
    receiver
}

/// A frame by hand: the sum of `1`, the text, and ETX.
#[test]
fn a_frame_carries_its_checksum() {
    assert_eq!(frames(&["H".into()]), [b"\x021H\r\x0389\r\n".to_vec()]);
    assert_eq!(u32::from(b'1') + u32::from(b'H') + 13 + 3, 0x89);
}

#[test]
fn what_is_sent_is_received_also_over_many_frames() {
    let records: Vec<String> = (0..20).map(|n| format!("R|{n}|{}", "x".repeat(n * 40))).collect();
    let sent = frames(&records);
    assert!(sent.len() > 40 && sent.iter().all(|frame| frame.len() <= 247), "at most 240 of text in a frame");
    let mut receiver = opened();
    let text: Vec<u8> = events(&mut receiver, &sent.concat())
        .into_iter()
        .flat_map(|event| match event {
            Event::Frame(text) => text,
            other => panic!("{other:?}"),
        })
        .collect();
    assert_eq!(text, records.iter().flat_map(|record| format!("{record}\r").into_bytes()).collect::<Vec<u8>>());
    assert_eq!(events(&mut receiver, &[EOT]), [Event::End]);
    assert!(!receiver.is_open());
}

#[rstest]
#[case::checksum(b"\x021H\r\x0388\r\n", Event::Broken(Reason::Checksum))]
#[case::no_digits(b"\x021H\r\x03zz\r\n", Event::Broken(Reason::Checksum))]
#[case::end_of_line(b"\x021H\r\x0389\r\r", Event::Broken(Reason::Checksum))]
#[case::number(b"\x022H\r\x038A\r\n", Event::Broken(Reason::FrameNumber))]
#[case::nothing(b"\x021\x0334\r\n", Event::Frame(vec![]))]
#[case::cut_off(b"\x021H\x02", Event::CutOff)]
fn broken_frames_are_told(#[case] bytes: &[u8], #[case] expected: Event) {
    assert_eq!(events(&mut opened(), bytes), [expected]);
}

#[test]
fn a_frame_whose_acknowledgement_was_lost_is_known_again() {
    let [first, second] = &frames(&["H".into(), "L".into()])[..] else { panic!() };
    let mut receiver = opened();
    let seen = events(&mut receiver, &[&first[..], first, second].concat());
    assert!(matches!(&seen[..], [Event::Frame(_), Event::Again, Event::Frame(_)]), "{seen:?}");
}

#[test]
fn noise_is_told_once_and_an_endless_frame_is_given_up() {
    let mut receiver = Receiver::default();
    assert_eq!(events(&mut receiver, b"\xff\x00hello"), [Event::Noise]);
    let mut receiver = opened();
    let endless = [&[STX][..], &vec![b'x'; 70_000]].concat();
    assert_eq!(events(&mut receiver, &endless), [Event::Broken(Reason::FrameTooLong)]);
    assert_eq!(events(&mut receiver, &frames(&["H".into()])[0]).len(), 1, "the next one is heard");
}

fn result(specimen: &str, test: &str, value: &str) -> Outcome {
    Outcome::Result(AnalyserResult {
        specimen: specimen.into(),
        test: test.into(),
        value: value.into(),
        unit: "mg/kg".into(),
        completed_at: None,
    })
}

#[rstest]
#[case::plain(r"H|\^&", "R|1|^^^AG|42.3|mg/kg||N||F", vec![result("K-1", "AG", "42.3")])]
#[case::other_delimiters("H!~*%", "R!1!***AG!42.3!mg/kg!!N!!F", vec![result("K-1", "AG", "42.3")])]
#[case::no_status(r"H|\^&", "R|1|AG|42.3|mg/kg", vec![result("K-1", "AG", "42.3")])]
#[case::preliminary(r"H|\^&", "R|1|^^^AG|42.3|mg/kg||N||P",
    vec![Outcome::Refused(Reason::NotFinal, "R|1|^^^AG|42.3|mg/kg||N||P".into())])]
#[case::no_value(r"H|\^&", "R|1|^^^AG||mg/kg", vec![Outcome::Refused(Reason::ResultUnreadable, "R|1|^^^AG||mg/kg".into())])]
#[case::unknown(r"H|\^&", "Z|1", vec![Outcome::Refused(Reason::UnknownRecord, "Z|1".into())])]
#[case::comment(r"H|\^&", "C|1|I|quiet", vec![])]
fn records_are_read(#[case] header: &str, #[case] record: &str, #[case] expected: Vec<Outcome>) {
    let by = header.chars().nth(1).unwrap();
    let mut message = Message::default();
    let text = format!("{header}\rP{by}1\rO{by}1{by}K-1\r{record}\rL{by}1");
    // A frame may end anywhere.
    let (first, second) = text.split_at(text.len() / 2);
    assert_eq!(message.take(first.as_bytes()), []);
    assert_eq!(message.take(second.as_bytes()), []);
    assert_eq!(message.take(b"\r"), expected);
    assert!(!message.is_open());
}

#[rstest]
#[case::utf_8("R|1|T|5|µS".as_bytes())]
#[case::latin_1(b"R|1|T|5|\xb5S")]
fn units_beyond_ascii_are_read(#[case] record: &[u8]) {
    let mut message = Message::default();
    let found = message.take(&[b"H|\\^&\rO|1|K\r", record, b"\rL|1\r"].concat());
    assert!(matches!(&found[..], [Outcome::Result(result)] if result.unit == "µS"), "{found:?}");
}

#[test]
fn a_result_needs_its_header_and_its_order() {
    let mut message = Message::default();
    assert_eq!(message.take(b"R|1|^^^AG|1|x\r"), [Outcome::Refused(Reason::NoHeader, "R|1|^^^AG|1|x".into())]);
    let outcomes = message.take(b"H|\\^&\rP|1\rR|1|^^^AG|1|x\rL|1\r");
    assert_eq!(outcomes, [Outcome::Refused(Reason::ResultWithoutOrder, "R|1|^^^AG|1|x".into())]);
}

#[rstest]
#[case::line(b"6.31 mm\r\n", vec![Line::Text("6.31 mm".into())])]
#[case::carriage_return_alone(b"1\r2\r", vec![Line::Text("1".into()), Line::Text("2".into())])]
#[case::blank(b"\r\n \r\n", vec![])]
#[case::garbage(b"\xff\xfe\n", vec![Line::Refused(Reason::Garbage, "\u{fffd}\u{fffd}".into())])]
#[case::unended(b"6.3", vec![])]
fn lines_are_cut(#[case] bytes: &[u8], #[case] expected: Vec<Line>) {
    let mut lines = Lines::default();
    assert_eq!(bytes.iter().filter_map(|byte| lines.take(*byte)).collect::<Vec<_>>(), expected);
}

#[test]
fn a_line_without_end_is_kept_short_and_the_next_is_read() {
    let mut lines = Lines::default();
    let bytes = [&vec![b'9'; 100_000][..], b"\r\n6.3\r\n"].concat();
    let cut: Vec<Line> = bytes.iter().filter_map(|byte| lines.take(*byte)).collect();
    assert_eq!(cut, [Line::Refused(Reason::LineTooLong, "9".repeat(64)), Line::Text("6.3".into())]);
}

fn at(second: i64) -> DateTime<Utc> {
    DateTime::from_timestamp(1_790_000_000 + second, 0).unwrap()
}

#[rstest]
#[case::number(r#"{"v":6.31}"#, Ok("6.31"))]
#[case::text(r#"{"v":"6,31 mm"}"#, Ok("6,31 mm"))]
#[case::no_json("6.31 mm", Err(Reason::NoJson))]
#[case::elsewhere(r#"{"w":6.31}"#, Err(Reason::NoValue))]
#[case::no_number(r#"{"v":[6.31]}"#, Err(Reason::NoValue))]
fn payloads_are_read(#[case] bytes: &str, #[case] expected: Result<&str, Reason>) {
    let payload = Payload { value: "/v".into(), unit: None, at: None, id: None };
    let arrived = value_of(&payload, bytes.as_bytes(), at(0)).map(|arrived| arrived.text);
    assert_eq!(arrived.as_deref().map_err(|reason| *reason), expected);
}

#[test]
fn a_payload_brings_unit_time_and_id() {
    let payload =
        Payload { value: "/d/v".into(), unit: Some("/u".into()), at: Some("/t".into()), id: Some("/n".into()) };
    let read = |text: &str| value_of(&payload, text.as_bytes(), at(0));
    let arrived = read(r#"{"d":{"v":3},"u":"bar","t":"2026-09-21T08:00:00+02:00","n":17}"#).unwrap();
    assert_eq!((arrived.text.as_str(), arrived.id.as_deref()), ("3 bar", Some("17")));
    assert_eq!(arrived.at.to_rfc3339(), "2026-09-21T06:00:00+00:00");
    assert_eq!(read(r#"{"d":{"v":3},"u":"bar","t":"later","n":1}"#), Err(Reason::NoTime));
    assert_eq!(read(r#"{"d":{"v":3},"u":"bar","t":"2999-01-01T00:00:00Z","n":1}"#), Err(Reason::FromTheFuture));
}

#[test]
fn a_payload_that_is_far_too_long_is_not_looked_into() {
    let payload = Payload { value: "/v".into(), unit: None, at: None, id: None };
    let long = format!(r#"{{"v":1,"rest":"{}"}}"#, "x".repeat(70_000));
    assert_eq!(value_of(&payload, long.as_bytes(), at(0)), Err(Reason::MessageTooLong));
}

/// What is stored between two messages.
fn stored(progress: &Progress) -> Progress {
    serde_json::from_value(serde_json::to_value(progress).unwrap()).unwrap()
}

#[test]
fn every_nth_value_is_a_reading_also_over_a_restart() {
    let mut progress = Progress::default();
    let mut taken = Vec::new();
    for n in 1..=7 {
        progress = stored(&progress);
        let reading = progress.take(Make::Every(3), f64::from(n), at(n.into())).unwrap();
        taken.push(reading.map(|reading| reading.value));
    }
    assert_eq!(taken, [None, None, Some(3.0), None, None, Some(6.0), None]);
}

#[test]
fn the_mean_of_a_bucket_is_a_reading_when_its_time_has_passed() {
    let (mut progress, make) = (Progress::default(), Make::Bucket(10));
    let start = at(0).timestamp().div_euclid(10) * 10 - at(0).timestamp();
    for (second, value) in [(1, 1.0), (9, 2.0)] {
        assert_eq!(progress.take(make, value, at(start + second)), Ok(None));
    }
    let reading = progress.take(make, 9.0, at(start + 12)).unwrap().unwrap();
    assert_eq!((reading.value, reading.at), (1.5, at(start + 10)));
    assert_eq!(progress.take(make, 5.0, at(start + 8)), Err(Reason::LateForItsBucket));
    assert_eq!(progress.tick(make, at(start + 20)), None);
    assert_eq!(progress.tick(make, at(start + 23)).unwrap().value, 9.0);
    assert_eq!(progress.tick(make, at(start + 99)), None, "a bucket without values is none");
}

#[test]
fn readings_wait_until_they_make_a_sample() {
    let mut progress = Progress::default();
    let reading = |n: i64| Reading { value: n as f64, at: at(n) };
    assert_eq!(progress.add(reading(1), 2), None);
    assert_eq!(progress.add(reading(2), 2), Some(vec![reading(1), reading(2)]));
    assert_eq!(progress.add(reading(3), 2), None);
}
