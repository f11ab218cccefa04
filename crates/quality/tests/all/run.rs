//! Control runs: the verdict by z alone, and what may be done with a run.

use quality::run::{RunRefusal, Stage, Summary, judge};
use rstest::rstest;
use spc::multirule::{LabRule, Verdict};
use uuid::Uuid;

fn levels() -> Vec<String> {
    vec!["low".into(), "high".into()]
}

#[rstest]
#[case::in_control(&[[Some(0.3), Some(-1.2)]], Verdict::Accepted, &[])]
#[case::a_warning(&[[Some(2.3), Some(0.1)]], Verdict::Warning, &[(LabRule::OneTwoS, 1)])]
#[case::within_the_run(&[[Some(2.3), Some(2.4)]], Verdict::Rejected,
    &[(LabRule::OneTwoS, 1), (LabRule::OneTwoS, 1), (LabRule::TwoTwoS, 1)])]
#[case::across_runs(&[[Some(-2.1), Some(0.1)], [Some(-2.2), Some(0.1)]], Verdict::Rejected,
    &[(LabRule::OneTwoS, 1), (LabRule::TwoTwoS, 2)])]
#[case::a_level_not_measured(&[[Some(-2.1), None], [None, Some(0.1)], [Some(-2.2), None]], Verdict::Rejected,
    &[(LabRule::OneTwoS, 1), (LabRule::TwoTwoS, 2)])]
#[case::only_the_newest_is_judged(&[[Some(3.5), Some(0.0)], [Some(0.1), Some(-0.1)]], Verdict::Accepted, &[])]
fn the_newest_run_is_judged(
    #[case] runs: &[[Option<f64>; 2]],
    #[case] verdict: Verdict,
    #[case] findings: &[(LabRule, usize)],
) {
    let runs: Vec<Vec<Option<f64>>> = runs.iter().map(|run| run.to_vec()).collect();
    let judgement = judge(&levels(), &LabRule::DEFAULT, &runs).unwrap();
    let found: Vec<(LabRule, usize)> = judgement.findings.iter().map(|f| (f.rule, f.runs)).collect();
    assert_eq!((judgement.verdict, &found[..]), (verdict, findings));
}

/// Each rule that rejects, once on each level that breaks it; from how many runs before.
#[rstest]
#[case::a_warning_asks_nobody(&[[2.3, 0.1]], &[])]
#[case::one_result(&[[-3.5, 0.1]], &[(LabRule::OneThreeS, "low", 0)])]
#[case::both_in_the_run(&[[2.3, 2.4]], &[(LabRule::TwoTwoS, "low", 0), (LabRule::TwoTwoS, "high", 0)])]
#[case::apart(&[[2.3, -2.4]], &[(LabRule::RangeFourS, "low", 0), (LabRule::RangeFourS, "high", 0)])]
#[case::in_two_runs(&[[0.1, 2.2], [-0.1, 2.3]], &[(LabRule::TwoTwoS, "high", 1)])]
#[case::in_the_run_and_before(&[[0.1, 2.2], [2.1, 2.3]],
    &[(LabRule::TwoTwoS, "low", 0), (LabRule::TwoTwoS, "high", 1)])]
#[case::after_that(&[[3.5, 0.0], [0.1, -0.1]], &[])]
fn a_run_raises_signals_for_what_rejects_it(#[case] runs: &[[f64; 2]], #[case] raised: &[(LabRule, &str, usize)]) {
    let runs: Vec<Vec<Option<f64>>> = runs.iter().map(|run| run.map(Some).to_vec()).collect();
    let judgement = judge(&levels(), &LabRule::DEFAULT, &runs).unwrap();
    let signals = judgement.signals();
    let signals: Vec<(LabRule, &str, usize)> = signals.iter().map(|s| (s.rule, s.level, s.reach)).collect();
    assert_eq!(signals, raised);
    assert_eq!(!signals.is_empty(), judgement.verdict == Verdict::Rejected);
}

#[test]
fn a_rule_that_is_switched_off_rejects_nothing() {
    let runs = [vec![Some(2.3), Some(2.4)]];
    let judgement = judge(&levels(), &[LabRule::OneThreeS], &runs).unwrap();
    assert_eq!(judgement.verdict, Verdict::Accepted);
}

const OWN: Uuid = Uuid::from_u128(1);
const ANOTHER: Uuid = Uuid::from_u128(2);
const SAVED: Stage = Stage {
    verdict: Verdict::Accepted,
    incomplete: false,
    ran_by: OWN,
    overridden: false,
    released: false,
    repeated: false,
};
const REJECTED: Stage = Stage { verdict: Verdict::Rejected, ..SAVED };
const INCOMPLETE: Stage = Stage { incomplete: true, ..SAVED };

/// An accepted run is released by whoever ran it; about any other somebody else decides.
#[rstest]
#[case::accepted(SAVED, Ok(()), Err(RunRefusal::NotRejected))]
#[case::rejected(REJECTED, Err(RunRefusal::Rejected), Err(RunRefusal::OwnRun))]
#[case::overridden(Stage { overridden: true, ..REJECTED }, Err(RunRefusal::OwnRun), Err(RunRefusal::NotRejected))]
#[case::incomplete(INCOMPLETE, Err(RunRefusal::Incomplete), Err(RunRefusal::OwnRun))]
fn what_who_ran_it_may_do(
    #[case] standing: Stage,
    #[case] released: Result<(), RunRefusal>,
    #[case] overridden: Result<(), RunRefusal>,
) {
    assert_eq!((standing.may_be_released(OWN), standing.may_be_overridden(OWN)), (released, overridden));
}

#[rstest]
#[case::accepted(SAVED, Ok(()), Err(RunRefusal::NotRejected), Ok(()))]
#[case::warned(Stage { verdict: Verdict::Warning, ..SAVED }, Ok(()), Err(RunRefusal::NotRejected), Ok(()))]
#[case::rejected(REJECTED, Err(RunRefusal::Rejected), Ok(()), Ok(()))]
#[case::incomplete(INCOMPLETE, Err(RunRefusal::Incomplete), Ok(()), Ok(()))]
#[case::incomplete_overridden(Stage { overridden: true, ..INCOMPLETE }, Ok(()), Err(RunRefusal::NotRejected), Ok(()))]
#[case::overridden(Stage { overridden: true, ..REJECTED }, Ok(()), Err(RunRefusal::NotRejected), Ok(()))]
#[case::released(Stage { released: true, ..SAVED }, Err(RunRefusal::Released), Err(RunRefusal::Released),
    Err(RunRefusal::Released))]
#[case::repeated(Stage { repeated: true, ..REJECTED }, Err(RunRefusal::Repeated), Err(RunRefusal::Repeated),
    Err(RunRefusal::Repeated))]
fn what_may_be_done_with_a_run(
    #[case] standing: Stage,
    #[case] released: Result<(), RunRefusal>,
    #[case] overridden: Result<(), RunRefusal>,
    #[case] repeated: Result<(), RunRefusal>,
) {
    assert_eq!(standing.may_be_released(ANOTHER), released);
    assert_eq!(standing.may_be_overridden(ANOTHER), overridden);
    assert_eq!(standing.may_be_repeated(), repeated);
}

#[rstest]
#[case::none(&[], None, None, None)]
#[case::one(&[4.0], Some(4.0), None, None)]
// Mean 5, squares 9 + 1 + 1 + 1 + 0 + 0 + 4 + 16 = 32, over 7.
#[case::eight(&[2.0, 4.0, 4.0, 4.0, 5.0, 5.0, 7.0, 9.0], Some(5.0), Some((32.0_f64 / 7.0).sqrt()),
    Some(20.0 * (32.0_f64 / 7.0).sqrt()))]
#[case::about_zero(&[-1.0, 1.0], Some(0.0), Some(2.0_f64.sqrt()), None)]
#[case::below_zero(&[-9.0, -11.0], Some(-10.0), Some(2.0_f64.sqrt()), Some(10.0 * 2.0_f64.sqrt()))]
fn figures_of_a_level(
    #[case] results: &[f64],
    #[case] mean: Option<f64>,
    #[case] sd: Option<f64>,
    #[case] cv: Option<f64>,
) {
    const ROUNDING: f64 = 1e-12;
    let figures = Summary::of(results);
    for (given, expected) in [(figures.mean, mean), (figures.sd, sd), (figures.cv, cv)] {
        match (given, expected) {
            (Some(given), Some(expected)) => assert!((given - expected).abs() <= ROUNDING * expected.abs().max(1.0)),
            _ => assert_eq!(given, expected),
        }
    }
}
