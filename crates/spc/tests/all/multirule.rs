//! Every rule of the laboratory multirule, one result short of it and with it.

use std::collections::BTreeMap;

use rstest::rstest;
use spc::multirule::{Hit, LabRule, Level, MultiruleRequest, Run, RunVerdict, Verdict, multirule};

/// Runs by z of levels a, b, c; mean 0, sd 1.
fn judge(rule: LabRule, runs: &[&[Option<f64>]]) -> Vec<RunVerdict> {
    let names = ["a", "b", "c"];
    let levels = names.map(|name| Level { name: name.into(), mean: 0.0, sd: 1.0 }).to_vec();
    let run = |z: &&[Option<f64>]| Run {
        results: names.iter().map(|name| (*name).to_owned()).zip(z.iter().copied()).collect::<BTreeMap<_, _>>(),
    };
    multirule(&MultiruleRequest { levels, runs: runs.iter().map(run).collect(), rules: Some(vec![rule]) }).unwrap()
}

/// One level, run after run; the verdict of the last.
fn last_of(rule: LabRule, z: &[f64]) -> Option<Hit> {
    let runs: Vec<[Option<f64>; 1]> = z.iter().map(|z| [Some(*z)]).collect();
    let runs: Vec<&[Option<f64>]> = runs.iter().map(|run| &run[..]).collect();
    judge(rule, &runs).pop().unwrap().hits.pop()
}

#[rstest]
#[case::three_one(LabRule::ThreeOneS, 3, 1.1)]
#[case::four_one(LabRule::FourOneS, 4, -1.1)]
#[case::six(LabRule::SixX, 6, 0.1)]
#[case::eight(LabRule::EightX, 8, -0.1)]
#[case::ten(LabRule::TenX, 10, 0.1)]
#[case::twelve(LabRule::TwelveX, 12, -0.1)]
fn so_many_in_a_row_break_a_rule_and_one_fewer_do_not(#[case] rule: LabRule, #[case] n: usize, #[case] z: f64) {
    let hit = last_of(rule, &vec![z; n]).unwrap();
    assert_eq!((hit.levels, hit.runs), (vec!["a".to_owned()], (0..n).collect::<Vec<_>>()));
    assert_eq!(last_of(rule, &vec![z; n - 1]), None);
    let mut broken = vec![z; n];
    broken[n / 2] = -z;
    assert_eq!(last_of(rule, &broken), None);
}

#[rstest]
#[case::rising(&[0.0, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6], true)]
#[case::falling(&[0.6, 0.5, 0.4, 0.3, 0.2, 0.1, 0.0], true)]
#[case::equal_neighbours(&[0.0, 0.1, 0.2, 0.2, 0.4, 0.5, 0.6], false)]
#[case::six(&[0.1, 0.2, 0.3, 0.4, 0.5, 0.6], false)]
fn a_trend_of_seven(#[case] z: &[f64], #[case] breaks: bool) {
    assert_eq!(last_of(LabRule::SevenT, z).is_some(), breaks);
}

#[rstest]
#[case::one_and_three_ago(&[2.1, 0.0, 2.2], &[0, 2])]
#[case::in_a_row(&[0.0, 2.1, 2.2], &[1, 2])]
#[case::too_long_ago(&[2.1, 0.0, 0.0, 2.2], &[])]
#[case::the_newest_is_within(&[2.1, 2.2, 0.0], &[])]
#[case::on_both_sides(&[2.1, 0.0, -2.2], &[])]
fn two_of_a_levels_last_three(#[case] z: &[f64], #[case] runs: &[usize]) {
    assert_eq!(last_of(LabRule::TwoOfThreeTwoS, z).map_or(vec![], |hit| hit.runs), runs);
}

#[test]
fn neighbours_in_a_run_are_those_that_were_measured() {
    let judged = judge(LabRule::TwoTwoS, &[&[Some(2.1), None, Some(2.3)], &[Some(2.1), Some(0.0), Some(2.3)]]);
    assert_eq!(judged[0].hits[0].levels, ["a", "c"]);
    // In the second run b lies between them, but a and c each have two runs beyond.
    let found: Vec<_> = judged[1].hits.iter().map(|hit| (hit.levels.join(","), hit.runs.clone())).collect();
    assert_eq!(found, [("a".to_owned(), vec![0, 1]), ("c".to_owned(), vec![0, 1])]);
}

/// The latest window that ends in the run and spans more than one level: from c of the first run on.
#[test]
fn a_row_across_levels_is_the_latest_that_ends_in_the_run() {
    let above = Some(1.5);
    let judged = judge(LabRule::FourOneS, &[&[Some(0.0), above, above], &[above, above, Some(0.0)]]);
    assert_eq!(judged[0].verdict, Verdict::Accepted);
    let hit = &judged[1].hits[0];
    assert_eq!((hit.levels.join(","), hit.runs.clone()), ("a,b,c".to_owned(), vec![0, 1]));
}

#[test]
fn a_warning_never_hides_a_rejection() {
    assert_eq!(judge(LabRule::OneTwoS, &[&[Some(3.5)]])[0].verdict, Verdict::Warning);
    assert_eq!(judge(LabRule::OneThreeS, &[&[Some(3.5)]])[0].verdict, Verdict::Rejected);
    assert_eq!(judge(LabRule::OneThreeS, &[&[Some(3.0)]])[0].verdict, Verdict::Accepted);
    assert_eq!(judge(LabRule::RangeFourS, &[&[Some(2.5), Some(-2.5)]])[0].hits[0].levels, ["a", "b"]);
    assert_eq!(judge(LabRule::RangeFourS, &[&[Some(2.5)], &[Some(-2.5)]])[1].hits, []);
}

#[rstest]
#[case::no_levels(|r: &mut MultiruleRequest| r.levels.clear(), "levels")]
#[case::twice(|r: &mut MultiruleRequest| r.levels[1].name = "a".into(), "levels[1].name")]
#[case::sd(|r: &mut MultiruleRequest| r.levels[1].sd = -1.0, "levels[1].sd")]
#[case::mean(|r: &mut MultiruleRequest| r.levels[0].mean = f64::NAN, "levels[0].mean")]
#[case::unknown(|r: &mut MultiruleRequest| r.runs[0].results = [("d".to_owned(), Some(1.0))].into(), "runs[0].results")]
#[case::no_number(|r: &mut MultiruleRequest| r.runs[0].results = [("a".to_owned(), Some(f64::NAN))].into(), "runs[0].results")]
fn a_field_out_of_bounds_is_named(#[case] spoil: fn(&mut MultiruleRequest), #[case] field: &str) {
    let level = |name: &str| Level { name: name.into(), mean: 0.0, sd: 1.0 };
    let mut request = MultiruleRequest {
        levels: vec![level("a"), level("b")],
        runs: vec![Run { results: [("a".to_owned(), Some(1.0))].into() }],
        rules: None,
    };
    assert!(multirule(&request).is_ok());
    spoil(&mut request);
    assert_eq!(multirule(&request).unwrap_err().path, field);
}
