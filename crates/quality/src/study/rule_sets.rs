//! What do these rules and sampling plans see, and what do they cost?

use serde::{Deserialize, Serialize};
use spc::rules::{Preset, RuleSet};
use spc::sampling::{SamplingPlan, SamplingRequest, sampling_at};
use uuid::Uuid;

use super::refusal::StudyRefusal;
use crate::field::{Allowed, NAME_AT_MOST, WrongField, broken};

/// Designs at most: more are no choice any more.
const DESIGNS_AT_MOST: usize = 4;
/// How far the process moves, in sigma of single values.
const SHIFTS: [f64; 6] = [0.5, 1.0, 1.5, 2.0, 2.5, 3.0];
/// Runs of each simulation, and where it starts.
const RUNS: (usize, u64) = (20_000, 1);
/// Limits farther out than this are none.
const K_AT_MOST: f64 = 10.0;
/// Pieces of a sample, and minutes between two.
const PLANS: (usize, f64) = (200, 10_080.0);

/// Which rules.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "rules", rename_all = "snake_case", deny_unknown_fields)]
pub enum DesignRules {
    /// Those of the characteristic.
    Own,
    /// Some that are known everywhere.
    Preset {
        /// Which.
        preset: Preset,
    },
    /// The latest version of a named set.
    Named {
        /// Identity of the set.
        set: Uuid,
    },
}

/// Rules at limits, and how samples are taken.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Design {
    /// What it is called.
    pub name: String,
    /// Which rules.
    pub rules: DesignRules,
    /// Of the limits, above 0 up to 10; 3 unless said.
    #[serde(default = "three")]
    pub k: f64,
    /// How many pieces how often.
    pub plan: SamplingPlan,
}

fn three() -> f64 {
    3.0
}

/// A question of rules and plans.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct RuleSetsQuestion {
    /// The characteristic whose rules `own` are.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub of: Option<Uuid>,
    /// The designs, 1 to 4.
    pub designs: Vec<Design>,
}

/// What a design sees of a shift.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SeenShift {
    /// How far the process moves, in sigma of single values.
    pub shift: f64,
    /// Samples from then to the first signal, on average.
    pub arl: f64,
    /// Standard error of that.
    pub standard_error: Option<f64>,
    /// Minutes to the first signal, on average.
    pub minutes: f64,
    /// Pieces that are measured until then.
    pub pieces: f64,
}

/// A design with what it sees and costs.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DesignSees {
    /// What it is called.
    pub name: String,
    /// The rules that were weighed.
    pub rules: RuleSet,
    /// k of the limits.
    pub k: f64,
    /// How many pieces how often.
    pub plan: SamplingPlan,
    /// Signals a day while nothing has changed.
    pub false_alarms_per_day: f64,
    /// Days from one of those to the next.
    pub days_between: f64,
    /// Pieces taken a day.
    pub pieces_per_day: f64,
    /// Shifts in their order.
    pub sees: Vec<SeenShift>,
}

/// Rules and plans weighed.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RuleSetsAnswer {
    /// In the order asked.
    pub designs: Vec<DesignSees>,
}

impl RuleSetsQuestion {
    pub(super) fn wrong(&self) -> Vec<WrongField> {
        let all = |holds: fn(&Design) -> bool| self.designs.iter().all(holds);
        let named = |design: &Design| (1..=NAME_AT_MOST).contains(&design.name.trim().chars().count());
        let own = self.of.is_some() || all(|design| design.rules != DesignRules::Own);
        let count = (1..=DESIGNS_AT_MOST).contains(&self.designs.len());
        broken([
            ("designs", count, Allowed::Entries { least: 1, most: DESIGNS_AT_MOST }),
            ("name", all(named), Allowed::Name { most: NAME_AT_MOST }),
            ("of", own, Allowed::CharacteristicOfOwnRules),
            ("k", all(|design| design.k > 0.0 && design.k <= K_AT_MOST), Allowed::Positive { most: K_AT_MOST }),
            (
                "plan.pieces",
                all(|design| (1..=PLANS.0).contains(&design.plan.pieces)),
                Allowed::Whole { least: 1, most: PLANS.0 as u32 },
            ),
            (
                "plan.interval_minutes",
                all(|design| (1.0..=PLANS.1).contains(&design.plan.interval_minutes)),
                Allowed::Whole { least: 1, most: PLANS.1 as u32 },
            ),
        ])
    }
}

/// Answers a question of rules and plans, whose rules are given in their order.
///
/// # Errors
/// Rules that signal too rarely to be simulated.
pub fn rule_sets(question: &RuleSetsQuestion, rules: &[RuleSet]) -> Result<RuleSetsAnswer, StudyRefusal> {
    let weigh = |(design, rules): (&Design, &RuleSet)| {
        let request = SamplingRequest {
            rules: rules.clone(),
            k: design.k,
            shift: 0.0,
            plans: vec![design.plan],
            runs: RUNS.0,
            seed: RUNS.1,
        };
        let rarely = |_| StudyRefusal::SignalsTooRarely { name: design.name.clone() };
        let found = sampling_at(&request, &SHIFTS).map_err(rarely)?.concat();
        let sees = SHIFTS.iter().zip(&found).map(|(shift, seen)| SeenShift {
            shift: *shift,
            arl: seen.arl,
            standard_error: seen.standard_error,
            minutes: seen.minutes_to_signal,
            pieces: seen.arl * design.plan.pieces as f64,
        });
        Ok(DesignSees {
            name: design.name.trim().to_owned(),
            rules: rules.clone(),
            k: design.k,
            plan: design.plan,
            false_alarms_per_day: found[0].false_alarms_per_day,
            days_between: 1.0 / found[0].false_alarms_per_day,
            pieces_per_day: found[0].pieces_per_day,
            sees: sees.collect(),
        })
    };
    let designs = question.designs.iter().zip(rules).map(weigh).collect::<Result<_, _>>()?;
    Ok(RuleSetsAnswer { designs })
}
