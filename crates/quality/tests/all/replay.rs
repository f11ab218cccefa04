//! Rules replayed over what a characteristic went through.

use quality::episode::Aspect;
use quality::replay::{Answered, Ended, Judged, Replayed, replay};
use rstest::rstest;
use spc::chart::{Signal, Statistic};
use spc::rules::{Rule, Side};

const RULE: Rule = Rule::OneSide { n: 8 };

fn finding(panel: Statistic, side: Side, at: usize, to: usize) -> Signal {
    Signal { panel, rule: RULE, side: Some(side), from: at.saturating_sub(7), at, to }
}

fn beyond(at: usize) -> Signal {
    Signal { rule: Rule::Beyond { k: 3.0 }, from: at, ..finding(Statistic::Mean, Side::Above, at, at) }
}

fn answered(side: Side, at: usize, to: usize, ended: Ended) -> Answered {
    Answered { aspect: Aspect::Location, side: Some(side), flagged: vec![(at, to)], ended }
}

/// Twenty places that all count, without a restart.
const ALL: Judged = Judged { counts: &[true; 20], restarts: &[] };

const NOTHING: Replayed =
    Replayed { points: 20, episodes: 0, found: 0, missed: 0, spared: 0, raised_for_nothing: 0, unknown: 0 };

/// One finding against one signal with a cause, whose flagged points are 10 to 12.
#[rstest]
#[case::same_point(finding(Statistic::Mean, Side::Above, 12, 15), true)]
#[case::whatever_the_pattern_reaches_back_to(finding(Statistic::Mean, Side::Above, 13, 15), false)]
#[case::other_side(finding(Statistic::Mean, Side::Below, 10, 12), false)]
#[case::of_another_panel_of_its_aspect(finding(Statistic::Ewma, Side::Above, 10, 12), true)]
#[case::a_trend(Signal { side: Some(Side::Rising), ..finding(Statistic::Mean, Side::Above, 10, 12) }, true)]
#[case::other_aspect(finding(Statistic::Range, Side::Above, 10, 12), false)]
fn an_episode_is_found_where_one_of_its_flagged_points_is_flagged(#[case] f: Signal, #[case] found: bool) {
    let told = replay(&[f], &[answered(Side::Above, 10, 12, Ended::Cause)], ALL);
    let expected = match found {
        true => Replayed { episodes: 1, found: 1, ..NOTHING },
        false => Replayed { episodes: 1, missed: 1, unknown: 1, ..NOTHING },
    };
    assert_eq!(told, expected);
}

#[test]
fn what_nobody_answered_is_unknown_and_never_false() {
    let findings = [beyond(3), beyond(17)];
    let past = [answered(Side::Above, 3, 3, Ended::NothingFound), answered(Side::Below, 9, 9, Ended::NothingFound)];
    let told = replay(&findings, &past, ALL);
    assert_eq!(told, Replayed { episodes: 2, raised_for_nothing: 1, spared: 1, unknown: 1, ..NOTHING });
}

/// A point that is set aside is flagged by nothing, whatever spans reach over it.
#[test]
fn a_point_that_is_set_aside_is_no_common_point() {
    let mut counts = [true; 20];
    counts[12] = false;
    let told = replay(
        &[finding(Statistic::Mean, Side::Above, 12, 15)],
        &[answered(Side::Above, 10, 12, Ended::Cause)],
        Judged { counts: &counts, restarts: &[] },
    );
    assert_eq!((told.found, told.missed, told.points), (0, 1, 19));
    assert_eq!(told.and(told).missed, 2);
}

/// One shift of the mean breaks many rules and is counted once; a restart parts it.
#[test]
fn episodes_are_counted_not_signals() {
    let findings = [finding(Statistic::Mean, Side::Above, 9, 12), beyond(10), beyond(11), beyond(13)];
    assert_eq!(replay(&findings, &[], ALL).episodes, 1);
    assert_eq!(replay(&findings, &[], Judged { restarts: &[13], ..ALL }).episodes, 2);
    let range = finding(Statistic::Range, Side::Above, 12, 12);
    assert_eq!(replay(&[findings[0], range], &[], ALL).episodes, 2);
}
