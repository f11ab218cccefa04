//! Which shift is handed over.

use chrono::{DateTime, NaiveTime, Utc};
use quality::handover::handed_over;
use quality::shift::{Calendar, Shift};
use rstest::rstest;

fn calendar() -> Calendar {
    let shift = |name: &str, hour| Shift { name: name.into(), begins: NaiveTime::from_hms_opt(hour, 0, 0).unwrap() };
    Calendar { zone: chrono_tz::Europe::London, shifts: vec![shift("Early", 6), shift("Late", 14), shift("Night", 22)] }
}

fn at(text: &str) -> DateTime<Utc> {
    text.parse().unwrap()
}

#[rstest]
#[case::shortly_before_the_end("2026-11-27T13:50:00Z", "Early", "2026-11-27T06:00:00Z")]
#[case::at_the_change("2026-11-27T14:00:00Z", "Early", "2026-11-27T06:00:00Z")]
#[case::while_the_next_is_young("2026-11-27T15:59:00Z", "Early", "2026-11-27T06:00:00Z")]
#[case::once_it_is_not("2026-11-27T16:00:00Z", "Late", "2026-11-27T14:00:00Z")]
#[case::over_midnight("2026-11-27T01:00:00Z", "Night", "2026-11-26T22:00:00Z")]
#[case::in_the_morning("2026-11-27T06:30:00Z", "Night", "2026-11-26T22:00:00Z")]
fn the_one_before_until_a_quarter_of_the_next_has_gone(#[case] now: &str, #[case] shift: &str, #[case] began: &str) {
    let found = handed_over(&calendar(), None, at(now)).unwrap();
    assert_eq!((found.turn.name.as_str(), found.turn.began), (shift, at(began)));
}

#[test]
fn each_leads_to_those_beside_it_that_have_begun() {
    let now = at("2026-11-27T15:00:00Z");
    let early = handed_over(&calendar(), None, now).unwrap();
    assert_eq!(early.before, Some(at("2026-11-26T22:00:00Z")));
    assert_eq!(early.after, Some(at("2026-11-27T14:00:00Z")));
    let late = handed_over(&calendar(), early.after, now).unwrap();
    assert_eq!((late.turn.name.as_str(), late.after), ("Late", None));
    assert_eq!(late.before, Some(early.turn.began));
}

#[test]
fn what_is_to_come_is_not_handed_over() {
    assert_eq!(handed_over(&calendar(), Some(at("2026-11-27T22:00:00Z")), at("2026-11-27T15:00:00Z")), None);
    let none = Calendar { shifts: vec![], ..calendar() };
    assert_eq!(handed_over(&none, None, at("2026-11-27T15:00:00Z")), None);
    assert_eq!(handed_over(&calendar(), Some(DateTime::<Utc>::MIN_UTC), at("2026-11-27T15:00:00Z")), None);
}
