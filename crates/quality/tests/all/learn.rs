//! What a period of episodes teaches.

use chrono::{DateTime, Duration, Utc};
use chrono_tz::Tz;
use quality::learn::{CauseNamed, Happening, InWeek, Takes, learn};
use rstest::rstest;
use uuid::Uuid;

const ZONE: Tz = chrono_tz::Europe::London;

fn at(text: &str) -> DateTime<Utc> {
    text.parse().unwrap()
}

fn cause(name: &str) -> Option<CauseNamed> {
    Some(CauseNamed { id: None, name: name.into() })
}

/// Raised on a Wednesday at noon, and not answered.
fn raised(station: u128) -> Happening {
    Happening {
        station: Uuid::from_u128(station),
        raised_at: at("2026-11-11T12:00:00Z"),
        answered_at: None,
        last_answered_at: None,
        reviewed_at: None,
        cause: None,
        rules: ["beyond".to_owned()].into(),
    }
}

fn answered(station: u128, minutes: i64, named: Option<CauseNamed>) -> Happening {
    let before = raised(station);
    let then = Some(before.raised_at + Duration::minutes(minutes));
    Happening { answered_at: then, last_answered_at: then, cause: named, ..before }
}

#[test]
fn nothing_teaches_nothing() {
    let learned = learn(&[], ZONE);
    assert_eq!((learned.episodes, learned.to_answer, learned.weeks.len()), (0, None, 0));
    assert_eq!(learned.nothing_found_share, None);
}

#[test]
fn causes_stand_with_where_and_how_often_they_came_back() {
    let later = |mut it: Happening| {
        it.raised_at += Duration::days(7);
        it
    };
    let all = [
        answered(1, 5, cause("Tool worn")),
        answered(2, 5, cause("Tool worn")),
        later(answered(2, 5, cause("Tool worn"))),
        answered(1, 5, cause("New clay lot")),
        answered(1, 5, None),
        raised(3),
    ];
    let learned = learn(&all, ZONE);
    assert_eq!((learned.episodes, learned.answered, learned.nothing_found), (6, 5, 1));
    assert_eq!(learned.nothing_found_share, Some(0.2));
    let causes: Vec<(&str, usize, usize)> =
        learned.causes.iter().map(|c| (c.cause.name.as_str(), c.episodes, c.weeks)).collect();
    assert_eq!(causes, [("Tool worn", 3, 2), ("New clay lot", 1, 1)]);
    let worn: Vec<(u128, usize)> =
        learned.causes[0].stations.iter().map(|at| (at.station.as_u128(), at.episodes)).collect();
    assert_eq!(worn, [(2, 2), (1, 1)]);
    let stations: Vec<u128> = learned.stations.iter().map(|at| at.station.as_u128()).collect();
    assert_eq!(stations, [1, 2, 3]);
}

#[rstest]
#[case(vec![7], 7, 7)]
#[case(vec![1, 2], 2, 2)]
#[case(vec![1, 2, 3], 2, 3)]
#[case((1..=10).collect(), 6, 9)]
#[case((1..=20).collect(), 11, 18)]
#[case((1..=21).collect(), 11, 19)]
fn how_long_an_answer_takes(#[case] minutes: Vec<i64>, #[case] median: i64, #[case] nine_of_ten: i64) {
    let all: Vec<Happening> = minutes.iter().rev().map(|minutes| answered(1, *minutes, None)).collect();
    let (of, longest) = (minutes.len(), minutes[minutes.len() - 1] * 60);
    let expected = Takes { of, median: median * 60, nine_of_ten: nine_of_ten * 60, longest };
    assert_eq!(learn(&all, ZONE).to_answer, Some(expected));
}

#[test]
fn a_review_is_timed_from_the_answer_it_is_about() {
    let mut back_and_forth = answered(1, 5, None);
    back_and_forth.last_answered_at = Some(back_and_forth.raised_at + Duration::minutes(60));
    back_and_forth.reviewed_at = Some(back_and_forth.raised_at + Duration::minutes(90));
    // Sent back, answered again, and not yet reviewed again.
    let mut waits = back_and_forth.clone();
    waits.reviewed_at = Some(waits.raised_at + Duration::minutes(30));
    let learned = learn(&[back_and_forth, waits], ZONE);
    assert_eq!(learned.to_review.map(|takes| (takes.of, takes.median)), Some((1, 30 * 60)));
    assert_eq!(learned.to_answer.map(|takes| takes.median), Some(5 * 60));
}

#[test]
fn one_that_broke_several_rules_counts_with_each() {
    let mut both = raised(1);
    both.rules.insert("one_side".into());
    let learned = learn(&[both, raised(1)], ZONE);
    let rules: Vec<(&str, usize)> = learned.rules.iter().map(|by| (by.rule.as_str(), by.episodes)).collect();
    assert_eq!(rules, [("beyond", 2), ("one_side", 1)]);
}

#[test]
fn weeks_begin_on_monday_by_the_clock_of_the_site_and_none_is_left_out() {
    let on = |text: &str| Happening { raised_at: at(text), ..raised(1) };
    // In summer half past eleven in the evening, UTC, is Monday already.
    let all = [on("2026-07-05T23:30:00Z"), on("2026-07-05T22:30:00Z"), on("2026-07-20T12:00:00Z")];
    let week = |monday: &str, episodes| InWeek { monday: monday.parse().unwrap(), episodes };
    let expected = [week("2026-06-29", 1), week("2026-07-06", 1), week("2026-07-13", 0), week("2026-07-20", 1)];
    assert_eq!(learn(&all, ZONE).weeks, expected);
}
