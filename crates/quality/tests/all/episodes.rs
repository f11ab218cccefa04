//! Which signals tell of one happening, and what may be done with them.

use proptest::prelude::*;
use quality::episode::{Aspect, Episode, Found, Pattern, Span, gather, keep, patterns, patterns_told};
use quality::signal::Broken;
use rstest::rstest;
use spc::chart::Statistic;
use spc::multirule::LabRule;
use spc::rules::{Rule, Side};
use uuid::Uuid;

const HIGH: Option<Side> = Some(Side::Above);
const LOW: Option<Side> = Some(Side::Below);
const RISING: Option<Side> = Some(Side::Rising);

fn at(side: Option<Side>, from: usize, to: usize) -> Span {
    Span { aspect: Aspect::Location, side, from, to, reviewed: false }
}

fn of_ranges(side: Option<Side>, from: usize, to: usize) -> Span {
    Span { aspect: Aspect::Dispersion, ..at(side, from, to) }
}

fn reviewed(side: Option<Side>, from: usize, to: usize) -> Span {
    Span { reviewed: true, ..at(side, from, to) }
}

/// Which of the spans are together.
fn together(spans: &[Span], cuts: &[usize]) -> Vec<Vec<usize>> {
    gather(spans, cuts).into_iter().map(|episode| episode.signals).collect()
}

#[rstest]
#[case::one_shift_of_a_mean(vec![at(HIGH, 0, 9), at(HIGH, 3, 5), at(HIGH, 6, 8), at(HIGH, 4, 9), at(HIGH, 7, 7)], vec![vec![0, 1, 3, 2, 4]])]
#[case::that_overlap(vec![at(HIGH, 0, 4), at(HIGH, 4, 8)], vec![vec![0, 1]])]
#[case::that_follow_without_a_clean_point(vec![at(HIGH, 0, 4), at(HIGH, 5, 8)], vec![vec![0, 1]])]
#[case::with_a_clean_point_between(vec![at(HIGH, 0, 4), at(HIGH, 6, 8)], vec![vec![0], vec![1]])]
#[case::with_another_signal_between(vec![at(HIGH, 0, 2), at(LOW, 3, 5), at(HIGH, 6, 8)], vec![vec![0, 2], vec![1]])]
#[case::high_and_low(vec![at(HIGH, 0, 4), at(LOW, 2, 8)], vec![vec![0], vec![1]])]
#[case::location_and_dispersion(vec![at(HIGH, 0, 4), of_ranges(HIGH, 0, 4)], vec![vec![0], vec![1]])]
#[case::a_trend_into_a_run(vec![at(RISING, 0, 5), at(HIGH, 4, 9)], vec![vec![0, 1]])]
#[case::a_trend_before_a_run(vec![at(RISING, 0, 5), at(HIGH, 6, 9)], vec![vec![0, 1]])]
#[case::a_trend_from_low_to_high(vec![at(LOW, 0, 3), at(RISING, 2, 9), at(HIGH, 6, 9)], vec![vec![0], vec![1, 2]])]
#[case::a_trend_that_overlaps_both_alike(vec![at(LOW, 0, 3), at(RISING, 2, 7), at(HIGH, 6, 9)], vec![vec![0, 1], vec![2]])]
#[case::a_trend_before_both_goes_high(vec![at(RISING, 4, 11), at(HIGH, 12, 17), at(LOW, 12, 17)], vec![vec![0, 1], vec![2]])]
#[case::a_trend_before_both_goes_high_whichever_came_first(vec![at(RISING, 4, 11), at(LOW, 12, 17), at(HIGH, 12, 17)], vec![vec![0, 2], vec![1]])]
#[case::a_trend_alone(vec![at(RISING, 0, 5)], vec![vec![0]])]
#[case::trends_alone(vec![at(RISING, 0, 5), at(Some(Side::Falling), 5, 10), at(None, 11, 20)], vec![vec![0, 1, 2]])]
#[case::a_trend_of_ranges_beside_high_means(vec![at(HIGH, 0, 9), of_ranges(RISING, 2, 8)], vec![vec![0], vec![1]])]
fn what_belongs_together(#[case] spans: Vec<Span>, #[case] expected: Vec<Vec<usize>>) {
    assert_eq!(together(&spans, &[]), expected);
}

#[rstest]
#[case::between_them(&[5], vec![vec![0], vec![1]])]
#[case::before_both(&[0], vec![vec![0, 1]])]
#[case::behind_both(&[9], vec![vec![0, 1]])]
fn nothing_reaches_across_a_phase_or_a_restart(#[case] cuts: &[usize], #[case] expected: Vec<Vec<usize>>) {
    assert_eq!(together(&[at(HIGH, 0, 4), at(HIGH, 5, 8)], cuts), expected);
}

#[test]
fn the_side_is_high_or_low_and_a_trend_takes_it_on() {
    let episodes = gather(&[at(RISING, 0, 5), at(HIGH, 4, 9)], &[]);
    assert_eq!((episodes[0].aspect, episodes[0].side), (Aspect::Location, HIGH));
    assert_eq!(gather(&[at(RISING, 0, 5)], &[])[0].side, None);
}

#[rstest]
#[case::goes_on(reviewed(HIGH, 0, 9), at(HIGH, 3, 12), Some(0))]
#[case::follows_at_once(reviewed(HIGH, 0, 9), at(HIGH, 10, 12), Some(0))]
#[case::after_a_clean_point(reviewed(HIGH, 0, 9), at(HIGH, 11, 12), None)]
#[case::on_the_other_side(reviewed(LOW, 0, 9), at(HIGH, 10, 12), None)]
fn a_pattern_that_goes_on_after_its_review_names_the_one_before(
    #[case] before: Span,
    #[case] now: Span,
    #[case] follows: Option<usize>,
) {
    let episodes = gather(&[before, now], &[]);
    assert_eq!(episodes, [Episode { aspect: Aspect::Location, side: HIGH, signals: vec![1], follows }]);
}

#[test]
fn what_is_split_goes_on_as_its_first_part_and_what_is_joined_as_the_earlier_one() {
    let (one, other) = (Some(Uuid::from_u128(1)), Some(Uuid::from_u128(2)));
    let split = gather(&[at(HIGH, 0, 3), at(HIGH, 5, 8)], &[]);
    assert_eq!(keep(&split, &[one, one]), [one, None]);
    let joined = gather(&[at(HIGH, 0, 4), at(HIGH, 5, 8), at(HIGH, 6, 9)], &[]);
    assert_eq!(keep(&joined, &[one, other, None]), [one]);
    // The first part has a new signal in front; the second keeps what is left of another.
    let both = gather(&[at(HIGH, 0, 1), at(HIGH, 2, 3), at(HIGH, 5, 8), at(HIGH, 6, 9)], &[]);
    assert_eq!(keep(&both, &[None, one, one, other]), [one, other]);
}

#[test]
fn what_lasts_is_said_first_then_what_lies_beyond() {
    let found = |rule, points| Found { rule, panel: Statistic::Mean, side: HIGH, points };
    let near = Broken::Chart(Rule::MOfN { m: 2, n: 3, k: 2.0 });
    let (beyond, run) = (Broken::Chart(Rule::Beyond { k: 3.0 }), Broken::Chart(Rule::OneSide { n: 8 }));
    let said =
        patterns(&[found(near, 3), found(beyond, 1), found(run, 9), found(beyond, 1), found(run, 15), found(near, 4)]);
    let said: Vec<_> = said.into_iter().map(|p| (p.rule, p.points, p.signals)).collect();
    assert_eq!(said, [(run, 15, 2), (beyond, 1, 2), (near, 4, 2)]);
    // What a run of the laboratory is judged by says more than the chart of a level.
    let said = patterns(&[found(beyond, 1), found(LabRule::OneThreeS.into(), 1), found(LabRule::TenX.into(), 10)]);
    let said: Vec<Broken> = said.into_iter().map(|p| p.rule).collect();
    assert_eq!(said, [LabRule::TenX.into(), LabRule::OneThreeS.into(), beyond]);
}

/// As the tables and the network know them.
#[rstest]
#[case::chart(r#"{"kind":"beyond","k":3.0}"#, Broken::Chart(Rule::Beyond { k: 3.0 }))]
#[case::laboratory(r#"{"kind":"multirule","rule":"R-4s"}"#, LabRule::RangeFourS.into())]
fn what_was_broken_is_told_by_its_kind(#[case] text: &str, #[case] broken: Broken) {
    assert_eq!(serde_json::from_str::<Broken>(text).unwrap(), broken);
    assert_eq!(serde_json::to_string(&broken).unwrap(), text);
}

fn any_span() -> impl Strategy<Value = Span> {
    let side = prop_oneof![Just(HIGH), Just(LOW), Just(RISING), Just(None)];
    (any::<bool>(), side, 0..40usize, 0..8usize, prop::bool::weighted(0.2)).prop_map(
        |(location, side, from, more, reviewed)| Span {
            aspect: if location { Aspect::Location } else { Aspect::Dispersion },
            side,
            from,
            to: from + more,
            reviewed,
        },
    )
}

proptest! {
    /// Each signal that asks is in one episode, whatever the order they come in; reviewed ones are in none. Two of one
    /// aspect and side are together exactly when no clean point lies between them.
    #[test]
    fn every_signal_is_in_one_episode(spans in prop::collection::vec(any_span(), 0..14), turn in 0..14usize) {
        let episodes = gather(&spans, &[]);
        let mut seen: Vec<usize> = episodes.iter().flat_map(|e| e.signals.clone()).collect();
        seen.sort_unstable();
        prop_assert_eq!(seen, (0..spans.len()).filter(|&i| !spans[i].reviewed).collect::<Vec<_>>());
        let of = |i: usize| episodes.iter().position(|e| e.signals.contains(&i));
        let clean = |a: &Span, b: &Span| {
            let between = a.to.min(b.to) + 1..a.from.max(b.from);
            between.into_iter().any(|point| !spans.iter().any(|s| s.from <= point && point <= s.to))
        };
        for (i, a) in spans.iter().enumerate() {
            for (j, b) in spans.iter().enumerate().filter(|(_, b)| !b.reviewed && !a.reviewed) {
                let sided = |s: &Span| s.side == HIGH || s.side == LOW;
                if sided(a) && sided(b) {
                    let alike = (a.aspect, a.side) == (b.aspect, b.side);
                    prop_assert_eq!(of(i) == of(j), alike && !clean(a, b), "{} and {}", i, j);
                }
            }
        }
        // What has no side is with the side that it overlaps most, and without one only where it overlaps none.
        let sided = |e: &&Episode| e.side.is_some();
        let overlap = |span: &Span, e: &Episode| {
            let signals = e.signals.iter().map(|&i| spans[i]).filter(|s| s.side == HIGH || s.side == LOW);
            let covered: Vec<Span> = signals.collect();
            (span.from..=span.to).filter(|point| covered.iter().any(|s| s.from <= *point && *point <= s.to)).count()
        };
        for (i, span) in spans.iter().enumerate().filter(|(_, s)| !s.reviewed && (s.side == RISING || s.side.is_none())) {
            let own = &episodes[of(i).unwrap()];
            let most = episodes.iter().filter(sided).filter(|e| e.aspect == span.aspect).map(|e| overlap(span, e)).max();
            prop_assert_eq!(if own.side.is_some() { overlap(span, own) } else { 0 }, most.unwrap_or(0), "{}", i);
        }
        let mut turned: Vec<(usize, Span)> = spans.iter().copied().enumerate().collect();
        if !turned.is_empty() {
            let by = turn % turned.len();
            turned.rotate_left(by);
        }
        let as_sets = |episodes: Vec<Episode>, name: &dyn Fn(usize) -> usize| {
            let mut sets: Vec<Vec<usize>> = episodes.into_iter().map(|e| {
                let mut set: Vec<usize> = e.signals.into_iter().map(name).collect();
                set.sort_unstable();
                set
            }).collect();
            sets.sort();
            sets
        };
        let other = gather(&turned.iter().map(|(_, span)| *span).collect::<Vec<_>>(), &[]);
        prop_assert_eq!(as_sets(other, &|i| turned[i].0), as_sets(episodes.clone(), &|i| i));
    }
}

#[rstest]
#[case::nothing(&[], None)]
#[case::of_a_chart(&[(Broken::Chart(Rule::OneSide { n: 8 }), 15, 1)], Some("mean one_side above 15"))]
#[case::of_a_run(&[(LabRule::RangeFourS.into(), 1, 1)], Some("mean R-4s above 1"))]
#[case::more(&[(LabRule::TenX.into(), 10, 2), (Broken::Chart(Rule::Beyond { k: 3.0 }), 1, 1)],
    Some("mean 10x above 10 ×2; mean beyond above 1"))]
fn patterns_are_told_by_their_names(#[case] given: &[(Broken, usize, usize)], #[case] told: Option<&str>) {
    let pattern = |&(rule, points, signals): &(Broken, usize, usize)| Pattern {
        rule,
        panel: Statistic::Mean,
        side: Some(Side::Above),
        points,
        signals,
    };
    let patterns: Vec<Pattern> = given.iter().map(pattern).collect();
    assert_eq!(patterns_told(&patterns).as_deref(), told);
}
