//! The laboratory multirule: is a control run accepted?
//!
//! A run measures one or more control materials (levels), each with its own mean and sd. Rules look
//! across the levels of one run, and at one level or all of them across runs.
//! Source: Westgard et al. (1981); CLSI C24.

mod find;

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::chart::{Problem, within_range};
use find::History;

/// Levels, their runs in order, and the rules that judge them.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct MultiruleRequest {
    /// In the order in which neighbouring levels are compared.
    pub levels: Vec<Level>,
    /// In the order of time.
    pub runs: Vec<Run>,
    /// Hits come in this order. Default: 1-2s, 1-3s, 2-2s, R-4s, 4-1s, 10x.
    pub rules: Option<Vec<LabRule>>,
}

/// A control material.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Level {
    /// Its name, unlike the others'.
    pub name: String,
    /// Assigned, or of its own accepted results.
    pub mean: f64,
    /// Likewise; above 0.
    pub sd: f64,
}

/// The results of one run.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Run {
    /// By name of the level; one that is missing or null is looked past.
    pub results: BTreeMap<String, Option<f64>>,
}

/// The rules of the multirule.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[allow(missing_docs)] // said by their descriptions
pub enum LabRule {
    /// One result beyond 2 sd: a warning, never a rejection.
    #[serde(rename = "1-2s")]
    OneTwoS,
    /// One result beyond 3 sd.
    #[serde(rename = "1-3s")]
    OneThreeS,
    /// Two consecutive results beyond 2 sd on one side, of neighbouring levels in the run or of one
    /// level in two runs.
    #[serde(rename = "2-2s")]
    TwoTwoS,
    /// In one run one result beyond +2 sd and another beyond −2 sd.
    #[serde(rename = "R-4s")]
    RangeFourS,
    /// Four consecutive beyond 1 sd on one side, of one level or across levels.
    #[serde(rename = "4-1s")]
    FourOneS,
    /// Ten consecutive on one side, of one level or across levels.
    #[serde(rename = "10x")]
    TenX,
    /// Two of three beyond 2 sd on one side, in a run or of one level.
    #[serde(rename = "2of3-2s")]
    TwoOfThreeTwoS,
    /// Three consecutive beyond 1 sd on one side.
    #[serde(rename = "3-1s")]
    ThreeOneS,
    /// Six consecutive on one side.
    #[serde(rename = "6x")]
    SixX,
    /// Eight consecutive on one side.
    #[serde(rename = "8x")]
    EightX,
    /// Twelve consecutive on one side.
    #[serde(rename = "12x")]
    TwelveX,
    /// Seven consecutive results of a level strictly rising or falling.
    #[serde(rename = "7T")]
    SevenT,
}

impl LabRule {
    /// The usual six.
    pub const DEFAULT: [Self; 6] =
        [Self::OneTwoS, Self::OneThreeS, Self::TwoTwoS, Self::RangeFourS, Self::FourOneS, Self::TenX];

    /// No rule looks back at more results than this.
    pub const LONGEST: usize = find::LONGEST;
}

/// What becomes of a run. A person may override it with a reason.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Verdict {
    /// No rule is broken.
    Accepted,
    /// Only 1-2s is.
    Warning,
    /// Any other rule is.
    Rejected,
}

/// A broken rule.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Hit {
    /// The rule.
    pub rule: LabRule,
    /// Levels whose results break it, in the order of the request.
    pub levels: Vec<String>,
    /// Runs whose results break it, ascending; the last is the run judged.
    pub runs: Vec<usize>,
}

/// The judgement of one run.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct RunVerdict {
    /// From the rules.
    pub verdict: Verdict,
    /// (result − mean)/sd of each level measured.
    pub z: BTreeMap<String, f64>,
    /// By rule in the order of the request.
    pub hits: Vec<Hit>,
}

/// Judges each run by itself and those before it.
///
/// # Errors
/// No levels, names twice, a mean or sd out of its bounds, results of unknown levels.
pub fn multirule(request: &MultiruleRequest) -> Result<Vec<RunVerdict>, Problem> {
    request.check()?;
    let rules = request.rules.as_deref().unwrap_or(&LabRule::DEFAULT);
    let mut history = History::new(request.levels.len());
    let verdicts = request.runs.iter().enumerate().map(|(number, run)| {
        let z: Vec<Option<f64>> = request
            .levels
            .iter()
            .map(|level| run.results.get(&level.name).copied().flatten().map(|x| (x - level.mean) / level.sd))
            .collect();
        history.push(number, &z);
        let hits: Vec<Hit> = rules
            .iter()
            .flat_map(|&rule| history.find(rule).into_iter().map(move |found| (rule, found)))
            .map(|(rule, found)| Hit {
                rule,
                levels: found.levels.iter().map(|&level| request.levels[level].name.clone()).collect(),
                runs: found.runs,
            })
            .collect();
        let severity = |hit: &Hit| if hit.rule == LabRule::OneTwoS { Verdict::Warning } else { Verdict::Rejected };
        RunVerdict {
            verdict: hits.iter().map(severity).max().unwrap_or(Verdict::Accepted),
            z: request.levels.iter().zip(z).filter_map(|(level, z)| Some((level.name.clone(), z?))).collect(),
            hits,
        }
    });
    Ok(verdicts.collect())
}

impl MultiruleRequest {
    fn check(&self) -> Result<(), Problem> {
        if self.levels.is_empty() {
            return Err(Problem::new("levels", "none", "at least one level"));
        }
        for (i, level) in self.levels.iter().enumerate() {
            if self.levels[..i].iter().any(|before| before.name == level.name) {
                return Err(Problem::new(format!("levels[{i}].name"), &level.name, "a name unlike the others'"));
            }
            if !within_range(level.mean) {
                return Err(Problem::new(format!("levels[{i}].mean"), level.mean, "a number between -1e100 and 1e100"));
            }
            if !(level.sd > 0.0 && within_range(level.sd)) {
                return Err(Problem::new(format!("levels[{i}].sd"), level.sd, "a number above 0"));
            }
        }
        for (i, run) in self.runs.iter().enumerate() {
            for (name, result) in &run.results {
                let Some(level) = self.levels.iter().find(|level| level.name == *name) else {
                    return Err(Problem::new(format!("runs[{i}].results"), name, "names of the levels"));
                };
                if let Some(x) = result.filter(|x| !((x - level.mean) / level.sd).is_finite() || !within_range(*x)) {
                    return Err(Problem::new(format!("runs[{i}].results"), x, "numbers between -1e100 and 1e100"));
                }
            }
        }
        Ok(())
    }
}
