//! What a rule set costs and finds: how many points pass until its first signal.

use std::collections::HashMap;
use std::sync::{LazyLock, Mutex, PoisonError};

use rand_chacha::ChaCha8Rng;
use rand_chacha::rand_core::SeedableRng;
use rand_distr::{Distribution, StandardNormal};
use serde::Serialize;

use crate::TIE;
use crate::rules::{Beyond, Judge, Rule, RuleSet, Tested};
use crate::stop;
use crate::wrong_request::{Expected, Need, WrongRequest};

/// A simulation to run.
#[derive(Debug, Clone, PartialEq)]
pub struct RunLengthRequest {
    /// The rules, at limits of 3 sigma.
    pub rules: RuleSet,
    /// Shifts of the mean in sigma of the plotted statistic.
    pub shifts: Vec<f64>,
    /// Runs to each shift.
    pub runs: usize,
    /// The same seed gives the same figures.
    pub seed: u64,
}

impl RunLengthRequest {
    /// In control and at shifts of 0.5, 1, 1.5, 2 and 3 sigma, 20,000 runs each.
    pub fn new(rules: RuleSet) -> Self {
        Self { rules, shifts: vec![0.0, 0.5, 1.0, 1.5, 2.0, 3.0], runs: 20_000, seed: 1 }
    }
}

/// Run lengths at one shift, in points; the flagged point counts.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct RunLength {
    /// The shift, in sigma.
    pub shift: f64,
    /// Average run length.
    pub arl: f64,
    /// Standard error of the average; `None` for a single run.
    pub standard_error: Option<f64>,
    /// Median run length.
    pub median: f64,
}

/// Average run lengths that were asked for before, by rules: the same simulation gives the same figure.
static KNOWN: LazyLock<Mutex<HashMap<String, f64>>> = LazyLock::new(Mutex::default);

/// So many are kept.
const KNOWN_AT_MOST: usize = 1000;

/// The average run length in control, from the default simulation. Whoever looks at hundreds of charts asks for the
/// same few rule sets, so what was found once is kept.
///
/// # Errors
/// As [`run_length`].
pub(crate) fn in_control(rules: RuleSet) -> Result<f64, WrongRequest> {
    let key = serde_json::to_string(&rules).unwrap_or_default();
    let known = || KNOWN.lock().unwrap_or_else(PoisonError::into_inner);
    if let Some(arl) = known().get(&key) {
        return Ok(*arl);
    }
    let arl = run_length(&RunLengthRequest { shifts: vec![0.0], ..RunLengthRequest::new(rules) })?[0].arl;
    let mut known = known();
    if known.len() < KNOWN_AT_MOST {
        known.insert(key, arl);
    }
    Ok(arl)
}

const RUNS_AT_MOST: usize = 1_000_000;
const SHIFTS_AT_MOST: usize = 100;
/// All runs of a request together; a few seconds of work. Rules that hardly ever signal are refused
/// rather than simulated for hours.
const POINTS_AT_MOST: u64 = 100_000_000;
/// Points times rules: long lists get fewer points.
const JUDGEMENTS_AT_MOST: u64 = 800_000_000;

/// Simulates z independent N(shift, 1) on a location panel, each run from an empty history to the
/// first flag of any rule. Source: Champ & Woodall (1987), whose exact figures it meets.
///
/// # Errors
/// No rules, numbers out of their bounds, or rules that signal so rarely that the simulation would
/// go on for more than 100 million points (fewer with more than eight rules).
pub fn run_length(request: &RunLengthRequest) -> Result<Vec<RunLength>, WrongRequest> {
    let rules: Vec<Rule> = request.rules.of_location(3.0).map(|listed| listed.rule).collect();
    request.rules.check("rules")?;
    if rules.is_empty() {
        return Err(WrongRequest::new("rules", "none", Expected::at_least(1, "rules")));
    }
    if !(1..=RUNS_AT_MOST).contains(&request.runs) {
        return Err(WrongRequest::new("runs", request.runs, Expected::whole(1, RUNS_AT_MOST)));
    }
    if request.shifts.len() > SHIFTS_AT_MOST {
        return Err(WrongRequest::new("shifts", request.shifts.len(), Expected::at_most(SHIFTS_AT_MOST, "shifts")));
    }
    if let Some((i, x)) = request.shifts.iter().enumerate().find(|(_, x)| !(-100.0..=100.0).contains(*x)) {
        return Err(WrongRequest::new(format!("shifts[{i}]"), x, Expected::between(-100.0, 100.0)));
    }
    let at_most = POINTS_AT_MOST.min(JUDGEMENTS_AT_MOST / rules.len() as u64);
    let mut judge = Judge::new(rules.into_iter().enumerate());
    let mut left = at_most;
    let mut answer = Vec::with_capacity(request.shifts.len());
    for (stream, &shift) in (0..).zip(&request.shifts) {
        // A stream of its own for each shift: asking for one more shift changes no other figure.
        let mut random = ChaCha8Rng::seed_from_u64(request.seed);
        random.set_stream(stream);
        let mut lengths = Vec::with_capacity(request.runs);
        for _ in 0..request.runs {
            stop::check()?;
            let length = one_run(&mut judge, shift, &mut random, left).ok_or_else(|| {
                WrongRequest::new("rules", format!("no signal within {at_most} points"), Need::SoonerSignals)
            })?;
            left -= length;
            lengths.push(length as f64);
        }
        answer.push(summary(shift, lengths));
    }
    Ok(answer)
}

/// Points to the first flag; `None` when there are none within `at_most`.
fn one_run(judge: &mut Judge, shift: f64, random: &mut ChaCha8Rng, at_most: u64) -> Option<u64> {
    judge.restart();
    let mut flagged = false;
    (1..=at_most).find(|_| {
        let noise: f64 = StandardNormal.sample(random);
        let point = Tested {
            index: 0,
            position: shift + noise,
            standardised: true,
            tie: TIE,
            above_constant: None,
            below_constant: None,
            drawn: Beyond::default(),
        };
        judge.push(&point, |_| flagged = true);
        flagged
    })
}

fn summary(shift: f64, lengths: Vec<f64>) -> RunLength {
    let n = lengths.len() as f64;
    RunLength {
        shift,
        arl: lengths.iter().sum::<f64>() / n,
        standard_error: crate::subgroup::sd(&lengths).map(|sd| sd / n.sqrt()),
        median: crate::subgroup::median(&lengths).unwrap_or(f64::NAN),
    }
}
