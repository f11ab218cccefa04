//! Runs judged one after another.

use std::collections::BTreeMap;

use serde::Serialize;

use super::find::History;
use super::request::MultiruleRequest;
use super::rule::{LabRule, Verdict};
use crate::wrong_request::WrongRequest;

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
pub fn multirule(request: &MultiruleRequest) -> Result<Vec<RunVerdict>, WrongRequest> {
    request.check()?;
    let rules = request.rules.as_deref().unwrap_or(&LabRule::DEFAULT);
    let mut history = History::new(request.levels.len());
    let verdicts = request.runs.iter().enumerate().map(|(number, run)| {
        let z: Vec<Option<f64>> = request
            .levels
            .iter()
            .map(|level| run.results.get(&level.name).copied().flatten().map(|x| level.z(x)))
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
        RunVerdict {
            verdict: hits.iter().map(|hit| hit.rule.verdict()).max().unwrap_or(Verdict::Accepted),
            z: request.levels.iter().zip(z).filter_map(|(level, z)| Some((level.name.clone(), z?))).collect(),
            hits,
        }
    });
    Ok(verdicts.collect())
}
