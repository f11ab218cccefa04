//! Levels, their runs and the rules that judge them.

use std::collections::BTreeMap;

use serde::Deserialize;

use super::rule::LabRule;
use crate::wrong_request::{Expected, Need, WrongRequest, within_range};

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

/// How far a result lies from the mean of its level: (result − mean)/sd.
pub fn z(result: f64, mean: f64, sd: f64) -> f64 {
    (result - mean) / sd
}

impl Level {
    /// (result − mean)/sd.
    pub(super) fn z(&self, result: f64) -> f64 {
        z(result, self.mean, self.sd)
    }
}

impl MultiruleRequest {
    pub(super) fn check(&self) -> Result<(), WrongRequest> {
        if self.levels.is_empty() {
            return Err(WrongRequest::new("levels", "none", Expected::at_least(1, "levels")));
        }
        for (i, level) in self.levels.iter().enumerate() {
            if self.levels[..i].iter().any(|before| before.name == level.name) {
                return Err(WrongRequest::new(format!("levels[{i}].name"), &level.name, Need::UnlikeTheOthers));
            }
            if !within_range(level.mean) {
                return Err(WrongRequest::new(format!("levels[{i}].mean"), level.mean, Expected::NUMBER));
            }
            if !(level.sd > 0.0 && within_range(level.sd)) {
                return Err(WrongRequest::new(format!("levels[{i}].sd"), level.sd, Expected::POSITIVE));
            }
        }
        for (i, run) in self.runs.iter().enumerate() {
            for (name, result) in &run.results {
                let Some(level) = self.levels.iter().find(|level| level.name == *name) else {
                    return Err(WrongRequest::new(format!("runs[{i}].results"), name, Need::LevelName));
                };
                if let Some(x) = result.filter(|x| !level.z(*x).is_finite() || !within_range(*x)) {
                    return Err(WrongRequest::new(format!("runs[{i}].results"), x, Expected::NUMBER));
                }
            }
        }
        Ok(())
    }
}
