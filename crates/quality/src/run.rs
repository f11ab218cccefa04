//! A control run of the laboratory: its verdict by the multirule, and what may be done with it.

use serde::{Deserialize, Serialize};
use spc::multirule::{LabRule, Level, MultiruleRequest, Run, Verdict, multirule};
use spc::wrong_request::WrongRequest;
use thiserror::Error;
use uuid::Uuid;

/// Runs that a verdict looks at: the newest, and those before it that a rule can reach back to.
pub const RUNS_LOOKED_AT: usize = LabRule::LONGEST;

/// A rule that a run breaks.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Finding {
    /// By the name that the trade gives it.
    pub rule: LabRule,
    /// Levels whose results break it.
    pub levels: Vec<String>,
    /// How many runs the pattern spans, this one counted.
    pub runs: usize,
    /// How many runs before this one it begins.
    #[serde(default)]
    #[cfg_attr(feature = "schema", schema(required))]
    pub reach: usize,
}

/// What the rules say about one analyte of a run.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Judgement {
    /// From the findings.
    pub verdict: Verdict,
    /// In the order of the rules.
    pub findings: Vec<Finding>,
}

/// Judges the newest of some runs of one analyte. `runs` are in order of time, each with
/// z = (result − mean)/sd by level, against the mean and sd that held for it; `None` where a level was
/// not measured.
///
/// # Errors
/// No levels, a name twice, or a z that is no number.
pub fn judge(levels: &[String], rules: &[LabRule], runs: &[Vec<Option<f64>>]) -> Result<Judgement, WrongRequest> {
    // Each result brings its own mean and sd, so the rules see z alone.
    let standard = |name: &String| Level { name: name.clone(), mean: 0.0, sd: 1.0 };
    let results = |z: &Vec<Option<f64>>| Run { results: levels.iter().cloned().zip(z.iter().copied()).collect() };
    let request = MultiruleRequest {
        levels: levels.iter().map(standard).collect(),
        runs: runs.iter().map(results).collect(),
        rules: Some(rules.to_vec()),
    };
    let newest = multirule(&request)?.pop();
    Ok(newest.map_or(Judgement { verdict: Verdict::Accepted, findings: vec![] }, |run| {
        let finding = |hit: spc::multirule::Hit| {
            let reach = hit.runs.first().map_or(0, |first| runs.len().saturating_sub(first + 1));
            Finding { rule: hit.rule, levels: hit.levels, runs: hit.runs.len(), reach }
        };
        Judgement { verdict: run.verdict, findings: run.hits.into_iter().map(finding).collect() }
    }))
}

/// A signal of a run that is not accepted: a rule, broken on one level.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct RunSignal<'a> {
    /// The rule.
    pub rule: LabRule,
    /// The level's name.
    pub level: &'a str,
    /// How many runs before this one its pattern begins.
    pub reach: usize,
}

impl Judgement {
    /// The signals that it raises: each rule that rejects, on each level that breaks it, once. A warning asks nobody.
    pub fn signals(&self) -> Vec<RunSignal<'_>> {
        let mut signals: Vec<RunSignal<'_>> = Vec::new();
        for Finding { rule, levels, reach, .. } in &self.findings {
            for level in levels.iter().filter(|_| rule.verdict() == Verdict::Rejected) {
                match signals.iter_mut().find(|signal| (signal.rule, signal.level) == (*rule, level)) {
                    Some(signal) => signal.reach = signal.reach.max(*reach),
                    None => signals.push(RunSignal { rule: *rule, level, reach: *reach }),
                }
            }
        }
        signals
    }
}

/// Where a run stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Stage {
    /// By the rules.
    pub verdict: Verdict,
    /// A level of an analyte that it measured is missing, so it is not accepted by itself.
    pub incomplete: bool,
    /// Who ran it.
    pub ran_by: Uuid,
    /// A person overrode the verdict.
    pub overridden: bool,
    /// A person released it.
    pub released: bool,
    /// Another run repeats it.
    pub repeated: bool,
}

/// What comes of a run, in one word.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Outcome {
    /// No rule is broken.
    #[default]
    Accepted,
    /// Accepted, with a warning.
    Warning,
    /// Not accepted by itself: levels are missing.
    Incomplete,
    /// Rejected by the rules.
    Rejected,
}

impl Outcome {
    /// Of a verdict on results, some of which may be missing.
    pub fn of(verdict: Verdict, incomplete: bool) -> Self {
        match verdict {
            Verdict::Rejected => Self::Rejected,
            _ if incomplete => Self::Incomplete,
            Verdict::Warning => Self::Warning,
            Verdict::Accepted => Self::Accepted,
        }
    }
}

/// What a person may do with a run: nothing hinders it, or this does.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RunSteps {
    /// Release it.
    pub release: Option<RunRefusal>,
    /// Override that it is not accepted by itself.
    pub overriding: Option<RunRefusal>,
    /// Repeat it.
    pub repeat: Option<RunRefusal>,
    /// Mark it as reviewed, where it waits for that.
    pub review: Option<RunRefusal>,
}

/// Why a step of a run cannot be taken.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum RunRefusal {
    /// Rejected by the rules, and not overridden.
    #[error("the run is rejected")]
    Rejected,
    /// Levels are missing, and nobody has overridden that.
    #[error("the run is incomplete")]
    Incomplete,
    /// Who ran a run that was not accepted neither overrides nor releases it.
    #[error("the run is one's own")]
    OwnRun,
    /// Released before.
    #[error("the run is released")]
    Released,
    /// Another run took its place.
    #[error("the run was repeated")]
    Repeated,
    /// Only a rejection can be overridden, and once.
    #[error("there is no rejection to override")]
    NotRejected,
    /// Accepted, and not released yet: nothing to review.
    #[error("the run is not settled")]
    NotSettled,
    /// A level is measured in runs, with its other levels.
    #[error("a level is measured in a run")]
    InARun,
    /// The results name a level twice, none at all, or one of another station.
    #[error("the results do not fit the station's levels")]
    Results,
}

impl Stage {
    fn settled(&self) -> Result<(), RunRefusal> {
        match self {
            Self { released: true, .. } => Err(RunRefusal::Released),
            Self { repeated: true, .. } => Err(RunRefusal::Repeated),
            _ => Ok(()),
        }
    }

    /// Why it is not accepted by itself.
    fn doubt(&self) -> Option<RunRefusal> {
        match self {
            Self { verdict: Verdict::Rejected, .. } => Some(RunRefusal::Rejected),
            Self { incomplete: true, .. } => Some(RunRefusal::Incomplete),
            _ => None,
        }
    }

    /// Whether `person` can release it.
    ///
    /// # Errors
    /// It is settled, or not accepted by itself and not overridden, or so and the person's own.
    pub fn may_be_released(&self, person: Uuid) -> Result<(), RunRefusal> {
        self.settled()?;
        match self.doubt() {
            Some(doubt) if !self.overridden => Err(doubt),
            Some(_) if self.ran_by == person => Err(RunRefusal::OwnRun),
            _ => Ok(()),
        }
    }

    /// Whether `person` can override that it is not accepted by itself.
    ///
    /// # Errors
    /// It is settled, or there is nothing to override, or it is the person's own.
    pub fn may_be_overridden(&self, person: Uuid) -> Result<(), RunRefusal> {
        self.settled()?;
        match self.doubt() {
            Some(_) if !self.overridden && self.ran_by == person => Err(RunRefusal::OwnRun),
            Some(_) if !self.overridden => Ok(()),
            _ => Err(RunRefusal::NotRejected),
        }
    }

    /// Whether `person` can mark it as reviewed: four eyes see it.
    ///
    /// # Errors
    /// It is their own, or it is neither released nor repeated nor rejected: somebody still works on it.
    pub fn may_be_reviewed(&self, person: Uuid) -> Result<(), RunRefusal> {
        match self {
            Self { ran_by, .. } if *ran_by == person => Err(RunRefusal::OwnRun),
            Self { released: false, repeated: false, .. } if self.doubt().is_none() => Err(RunRefusal::NotSettled),
            _ => Ok(()),
        }
    }

    /// What `person` may do with it.
    pub fn steps(&self, person: Uuid) -> RunSteps {
        RunSteps {
            release: self.may_be_released(person).err(),
            overriding: self.may_be_overridden(person).err(),
            repeat: self.may_be_repeated().err(),
            review: self.may_be_reviewed(person).err(),
        }
    }

    /// Whether another run can repeat it: once, and the repeat itself can be repeated.
    ///
    /// # Errors
    /// It is settled.
    pub fn may_be_repeated(&self) -> Result<(), RunRefusal> {
        self.settled()
    }
}

/// Figures of some results of a level.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Summary {
    /// How many.
    pub n: usize,
    /// Their mean; nothing without results.
    pub mean: Option<f64>,
    /// Standard deviation, with n − 1; nothing of fewer than two.
    pub sd: Option<f64>,
    /// 100 sd/|mean|; nothing when the mean is 0.
    pub cv: Option<f64>,
}

impl Summary {
    /// Of these results.
    pub fn of(results: &[f64]) -> Self {
        let n = results.len();
        let mean = (n > 0).then(|| results.iter().sum::<f64>() / n as f64);
        let sd = mean.filter(|_| n > 1).map(|mean| {
            let squares: f64 = results.iter().map(|x| (x - mean).powi(2)).sum();
            (squares / (n - 1) as f64).sqrt()
        });
        let cv = sd.zip(mean).filter(|(_, mean)| *mean != 0.0).map(|(sd, mean)| 100.0 * sd / mean.abs());
        Self { n, mean, sd, cv }
    }
}
