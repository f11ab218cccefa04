//! Whatever a device or a network sends: nothing panics, and what is good behind it is taken.

use chrono::{DateTime, Utc};
use devices::astm::frame::{ENQ, EOT, Event, Receiver, frames};
use devices::astm::record::{Message, Outcome};
use devices::gauge::{Line, Lines};
use devices::sensor::{Progress, value_of};
use proptest::collection::vec;
use proptest::prelude::*;
use quality::device::{Make, Payload};

fn good_message() -> Vec<String> {
    [r"H|\^&", "P|1", "O|1|K-1||^^^AG", "R|1|^^^AG|42.3|mg/kg||N||F", "L|1|N"].map(str::to_owned).to_vec()
}

/// The texts of the frames that are taken.
fn texts(receiver: &mut Receiver, bytes: &[u8]) -> Vec<Vec<u8>> {
    let mut texts = Vec::new();
    for byte in bytes {
        if let Some(Event::Frame(text)) = receiver.take(*byte) {
            receiver.accept();
            texts.push(text);
        }
    }
    texts
}

fn results(outcomes: &[Outcome]) -> usize {
    outcomes.iter().filter(|outcome| matches!(outcome, Outcome::Result(r) if r.value == "42.3")).count()
}

/// Bytes that mean something in the protocol come often.
fn noise() -> impl Strategy<Value = Vec<u8>> {
    vec(prop_oneof![3 => any::<u8>(), 2 => 0u8..0x18, 1 => b'0'..=b'9'], 0..400)
}

fn at(second: i64) -> DateTime<Utc> {
    DateTime::from_timestamp(1_790_000_000 + second, 0).unwrap()
}

proptest! {
    #[test]
    fn a_sender_that_starts_anew_is_heard_whatever_came_before(noise in noise()) {
        let mut receiver = Receiver::default();
        texts(&mut receiver, &noise);
        // Given up by its silence, as a sender that stops in the middle of a frame is.
        receiver = if receiver.is_open() { Receiver::default() } else { receiver };
        let sent: Vec<u8> = frames(&good_message()).concat();
        let taken = texts(&mut receiver, &[&[ENQ], &sent[..], &[EOT]].concat());
        let mut message = Message::default();
        let outcomes: Vec<Outcome> = taken.iter().flat_map(|text| message.take(text)).collect();
        prop_assert_eq!(results(&outcomes), 1);
        prop_assert!(!receiver.is_open());
    }

    #[test]
    fn a_frame_with_one_byte_changed_is_never_taken_for_another(place in 0usize..40, change in 1u8..=255) {
        let good = &frames(&good_message())[2];
        let mut changed = good.clone();
        // Between STX and the end of the frame.
        let place = 1 + place % (good.len() - 1);
        changed[place] ^= change;
        let mut receiver = Receiver::default();
        receiver.take(ENQ);
        for before in &frames(&good_message())[..2] {
            prop_assert_eq!(texts(&mut receiver, before).len(), 1);
        }
        for text in texts(&mut receiver, &changed) {
            prop_assert!(text == good[2..good.len() - 5], "another text was taken: {text:?}");
        }
    }

    #[test]
    fn a_message_says_the_same_however_it_is_cut_into_frames(cuts in vec(1usize..30, 1..40)) {
        let text: Vec<u8> = good_message().iter().flat_map(|record| [record.as_bytes(), b"\r"].concat()).collect();
        let (mut message, mut outcomes, mut from) = (Message::default(), Vec::new(), 0);
        for length in cuts.into_iter().cycle() {
            let to = (from + length).min(text.len());
            outcomes.extend(message.take(&text[from..to]));
            from = to;
            if from == text.len() {
                break;
            }
        }
        prop_assert_eq!(results(&outcomes), 1);
        prop_assert_eq!(outcomes.len(), 1);
    }

    #[test]
    fn any_text_of_a_message_is_read_or_refused(bytes in vec(prop_oneof![any::<u8>(), Just(b'\r'), Just(b'|'), Just(b'&'), Just(b'R'), Just(b'H')], 0..600)) {
        let mut message = Message::default();
        for text in bytes.chunks(17) {
            message.take(text);
        }
        prop_assert_eq!(message.text().len(), bytes.len());
    }

    #[test]
    fn a_gauges_line_is_read_behind_any_bytes(bytes in vec(any::<u8>(), 0..300)) {
        let mut lines = Lines::default();
        let all = [&bytes[..], b"\r\n6.31 mm\r\n"].concat();
        let cut: Vec<Line> = all.iter().filter_map(|byte| lines.take(*byte)).collect();
        prop_assert_eq!(cut.last(), Some(&Line::Text("6.31 mm".into())));
        prop_assert!(!lines.is_begun());
    }

    #[test]
    fn any_payload_is_read_or_refused(bytes in vec(any::<u8>(), 0..200), text in "[{}\\[\\]\":,a-z0-9.eE+-]{0,60}") {
        let payload = Payload { value: "/v".into(), unit: Some("/u".into()), at: Some("/t".into()), id: Some("/n".into()) };
        prop_assert!(value_of(&payload, &bytes, at(0)).is_err());
        let _ = value_of(&payload, text.as_bytes(), at(0));
    }

    #[test]
    fn every_value_of_a_stream_counts_once(values in vec(-1e6f64..1e6, 1..200), n in 1u32..20) {
        let mut progress = Progress::default();
        let mut readings = 0;
        for (second, value) in (0..).zip(&values) {
            readings += usize::from(progress.take(Make::Every(n), *value, at(second)).unwrap().is_some());
        }
        prop_assert_eq!(readings, values.len() / n as usize);
    }

    #[test]
    fn the_mean_of_a_bucket_lies_among_its_values(values in vec(-1e6f64..1e6, 1..60)) {
        let (mut progress, make) = (Progress::default(), Make::Bucket(60));
        let start = at(0).timestamp().rem_euclid(60);
        for (second, value) in (0..).zip(&values) {
            prop_assert_eq!(progress.take(make, *value, at(60 - start + second % 60)).unwrap(), None);
        }
        let mean = progress.tick(make, at(600)).unwrap().value;
        let (low, high) = values.iter().fold((f64::MAX, f64::MIN), |(low, high), x| (low.min(*x), high.max(*x)));
        prop_assert!(mean >= low - 1e-6 && mean <= high + 1e-6, "{low} {mean} {high}");
    }
}
