//! What a sampling plan sees: how long until a shift of the process is signalled, and how often without one.
//!
//! With n pieces the mean shifts by δ = shift·√n of its own sigma. Minutes to a signal = (ARL(δ) − ½)·interval: the
//! shift comes at any moment between two samples. False alarms a day = 1440/interval/ARL(0), pieces a day =
//! 1440/interval·n. Where the set is one `beyond` k, ARL = 1/(Φ(−k−δ) + Φ(−k+δ)) exactly; other sets are simulated.
//! Source: Montgomery, ch. 5.3.4 (sample size and sampling frequency); Champ & Woodall (1987).

use serde::{Deserialize, Serialize};

use crate::normal;
use crate::rules::{ListedRule, Rule, RuleSet};
use crate::run_length::{RunLengthRequest, run_length};
use crate::wrong_request::{Expected, WrongRequest, within_range};

/// How many pieces are taken how often.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct SamplingPlan {
    /// Pieces in a sample, 1…200.
    pub pieces: usize,
    /// Minutes from one sample to the next, 1…10,080.
    pub interval_minutes: f64,
}

/// Plans to weigh against one another.
#[derive(Debug, Clone, PartialEq)]
pub struct SamplingRequest {
    /// The rules of the location panel.
    pub rules: RuleSet,
    /// k of the limits, which the `beyond` of a preset takes.
    pub k: f64,
    /// How far the process moves, in sigma of single values.
    pub shift: f64,
    /// At most 50.
    pub plans: Vec<SamplingPlan>,
    /// Runs of each simulation.
    pub runs: usize,
    /// The same seed gives the same figures.
    pub seed: u64,
}

/// What a plan sees.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlanSees {
    /// The plan.
    #[serde(flatten)]
    pub plan: SamplingPlan,
    /// Points from the shift to the first signal, on average.
    pub arl: f64,
    /// Standard error of that; 0 where it is exact, `None` for a single run.
    pub standard_error: Option<f64>,
    /// From the shift to the first signal, on average.
    pub minutes_to_signal: f64,
    /// Signals a day while nothing has changed.
    pub false_alarms_per_day: f64,
    /// Pieces taken a day.
    pub pieces_per_day: f64,
}

const PIECES_AT_MOST: usize = 200;
const MINUTES_AT_MOST: f64 = 10_080.0;
const PLANS_AT_MOST: usize = 50;
const MINUTES_A_DAY: f64 = 1440.0;

/// Weighs plans against one another.
///
/// ```
/// use spc::rules::{Preset, RuleSet};
/// use spc::sampling::{SamplingPlan, SamplingRequest, sampling};
/// let plans = vec![SamplingPlan { pieces: 4, interval_minutes: 60.0 }];
/// let limits_only = RuleSet::Preset(Preset::LimitsOnly);
/// let sees = sampling(&SamplingRequest { rules: limits_only, k: 3.0, shift: 1.0, plans, runs: 20_000, seed: 1 }).unwrap();
/// assert!((sees[0].arl - 6.303).abs() < 1e-3);
/// ```
///
/// # Errors
/// No rules or plans, numbers out of their bounds, rules that signal too rarely to be simulated.
pub fn sampling(request: &SamplingRequest) -> Result<Vec<PlanSees>, WrongRequest> {
    Ok(sampling_at(request, &[request.shift])?.swap_remove(0))
}

/// The same at several shifts, in place of that of the request: what is seen while nothing changes is found once.
///
/// # Errors
/// As [`sampling`].
pub fn sampling_at(request: &SamplingRequest, shifts: &[f64]) -> Result<Vec<Vec<PlanSees>>, WrongRequest> {
    request.check()?;
    let still = request.lengths(0.0)?.0;
    let at = |&shift: &f64| {
        let mut found: Vec<(usize, (f64, Option<f64>))> = Vec::new();
        let mut seen = |pieces: usize| match found.iter().find(|(of, _)| *of == pieces) {
            Some((_, lengths)) => Ok(*lengths),
            None => {
                let lengths = request.lengths(shift * (pieces as f64).sqrt())?;
                found.push((pieces, lengths));
                Ok(lengths)
            }
        };
        let sees = |plan: &SamplingPlan| {
            let (arl, standard_error) = seen(plan.pieces)?;
            let a_day = MINUTES_A_DAY / plan.interval_minutes;
            Ok(PlanSees {
                plan: *plan,
                arl,
                standard_error,
                minutes_to_signal: (arl - 0.5) * plan.interval_minutes,
                false_alarms_per_day: a_day / still,
                pieces_per_day: a_day * plan.pieces as f64,
            })
        };
        request.plans.iter().map(sees).collect()
    };
    shifts.iter().map(at).collect()
}

impl SamplingRequest {
    fn check(&self) -> Result<(), WrongRequest> {
        self.rules.check("rules")?;
        if !(self.k > 0.0 && within_range(self.k)) {
            return Err(WrongRequest::new("k", self.k, Expected::POSITIVE));
        }
        if !within_range(self.shift) {
            return Err(WrongRequest::new("shift", self.shift, Expected::NUMBER));
        }
        if self.plans.is_empty() {
            return Err(WrongRequest::new("plans", "none", Expected::at_least(1, "plans")));
        }
        if self.plans.len() > PLANS_AT_MOST {
            return Err(WrongRequest::new("plans", self.plans.len(), Expected::at_most(PLANS_AT_MOST, "plans")));
        }
        for (i, plan) in self.plans.iter().enumerate() {
            let SamplingPlan { pieces, interval_minutes } = *plan;
            if !(1..=PIECES_AT_MOST).contains(&pieces) {
                return Err(WrongRequest::new(
                    format!("plans[{i}].pieces"),
                    pieces,
                    Expected::whole(1, PIECES_AT_MOST),
                ));
            }
            if !(1.0..=MINUTES_AT_MOST).contains(&interval_minutes) {
                let expected = Expected::between(1.0, MINUTES_AT_MOST);
                return Err(WrongRequest::new(format!("plans[{i}].interval_minutes"), interval_minutes, expected));
            }
        }
        Ok(())
    }

    /// Average run length at a shift in sigma of the mean, and its standard error.
    fn lengths(&self, shift: f64) -> Result<(f64, Option<f64>), WrongRequest> {
        let rules: Vec<ListedRule> = self.rules.of_location(self.k).collect();
        if let [ListedRule { rule: Rule::Beyond { k }, .. }] = *rules.as_slice() {
            return Ok((1.0 / (normal::cdf(-k - shift) + normal::cdf(-k + shift)), Some(0.0)));
        }
        // Farther out every point is beyond every limit, and the simulation takes no such shift.
        let shifts = vec![shift.clamp(-100.0, 100.0)];
        let request = RunLengthRequest { rules: RuleSet::List(rules), shifts, runs: self.runs, seed: self.seed };
        run_length(&request).map(|lengths| (lengths[0].arl, lengths[0].standard_error))
    }
}
