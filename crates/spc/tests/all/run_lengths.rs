//! Run lengths against the exact figures of Champ & Woodall (1987), Technometrics 29, table 1.

use rstest::rstest;
use spc::rules::{Preset, Rule, RuleSet};
use spc::run_length::{RunLengthRequest, run_length};

const BEYOND: Rule = Rule::Beyond { k: 3.0 };
const TWO_OF_THREE: Rule = Rule::MOfN { m: 2, n: 3, k: 2.0 };
const FOUR_OF_FIVE: Rule = Rule::MOfN { m: 4, n: 5, k: 1.0 };
const EIGHT: Rule = Rule::OneSide { n: 8 };

/// Seeds are fixed, so the outcome is too; three standard errors would fail one figure in 370.
const STANDARD_ERRORS: f64 = 3.0;

#[rstest]
#[case::limits_alone(&[BEYOND], &[(0.0, 370.40), (0.2, 308.43), (0.4, 200.08), (0.6, 119.67), (0.8, 71.55), (1.0, 43.89),
    (1.4, 18.25), (2.0, 6.30), (3.0, 2.00)])]
#[case::and_two_of_three(&[BEYOND, TWO_OF_THREE], &[(0.0, 225.44)])]
#[case::and_four_of_five(&[BEYOND, FOUR_OF_FIVE], &[(0.0, 166.05)])]
#[case::and_eight(&[BEYOND, EIGHT], &[(0.0, 152.73)])]
#[case::two_and_four(&[BEYOND, TWO_OF_THREE, FOUR_OF_FIVE], &[(0.0, 132.89)])]
#[case::two_and_eight(&[BEYOND, TWO_OF_THREE, EIGHT], &[(0.0, 122.05)])]
#[case::four_and_eight(&[BEYOND, FOUR_OF_FIVE, EIGHT], &[(0.0, 105.78)])]
#[case::all_four(&[BEYOND, TWO_OF_THREE, FOUR_OF_FIVE, EIGHT], &[(0.0, 91.75), (1.0, 9.22), (2.0, 3.13), (3.0, 1.67)])]
fn published_run_lengths_hold(#[case] rules: &[Rule], #[case] published: &[(f64, f64)]) {
    let shifts = published.iter().map(|(shift, _)| *shift).collect();
    let request = RunLengthRequest { shifts, ..RunLengthRequest::new(RuleSet::of(rules.to_vec())) };
    let found = run_length(&request).unwrap();
    assert_eq!(found.len(), published.len());
    for (found, (shift, arl)) in found.iter().zip(published) {
        // Printed to two decimals.
        let allowed = STANDARD_ERRORS * found.standard_error.unwrap() + 0.005;
        assert!((found.arl - arl).abs() <= allowed, "shift {shift}: {} is not {arl} within {allowed}", found.arl);
    }
}

#[test]
fn the_same_seed_gives_the_same_figures_whatever_else_is_asked() {
    let few = |shifts: Vec<f64>, seed| RunLengthRequest {
        shifts,
        runs: 50,
        seed,
        ..RunLengthRequest::new(RuleSet::Preset(Preset::Nelson))
    };
    let one = run_length(&few(vec![1.0], 4)).unwrap();
    let two = run_length(&few(vec![1.0, 2.0], 4)).unwrap();
    assert_eq!(one[0], two[0]);
    assert_ne!(one[0], run_length(&few(vec![1.0], 5)).unwrap()[0]);
}

#[rstest]
#[case::no_rules(|r: &mut RunLengthRequest| r.rules = RuleSet::List(vec![]), "rules")]
#[case::hardly_ever(|r: &mut RunLengthRequest| r.rules = RuleSet::of(vec![Rule::Beyond { k: 9.0 }]), "rules")]
#[case::no_runs(|r: &mut RunLengthRequest| r.runs = 0, "runs")]
#[case::shift(|r: &mut RunLengthRequest| r.shifts = vec![0.0, f64::NAN], "shifts[1]")]
fn simulations_that_cannot_be_are_refused(#[case] spoil: fn(&mut RunLengthRequest), #[case] field: &str) {
    let mut request = RunLengthRequest { runs: 2, ..RunLengthRequest::new(RuleSet::Preset(Preset::LimitsOnly)) };
    spoil(&mut request);
    assert_eq!(run_length(&request).unwrap_err().path, field);
}
