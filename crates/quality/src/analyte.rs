//! What the laboratory determines in control materials, as it is set up.

use serde::{Deserialize, Serialize};
use spc::chart::{ChartKind, ChartOptions, SigmaMethod, Statistic};
use spc::multirule::LabRule;
use spc::rules::{Preset, RuleSet};
use uuid::Uuid;

use crate::characteristic::{Bounds, Characteristic, Kind, Sampling, Specification, Taken, usual_escalation, usual_k};
use crate::field::{Allowed, WrongField, all_unlike, name};
use crate::setup::SetUpRefusal;

/// Levels of an analyte at most.
const LEVELS_AT_MOST: usize = 9;

/// Means and standard deviations at most.
const LARGEST: f64 = 1e15;

/// An analyte to set up.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct NewAnalyte {
    /// The bench.
    pub station: Uuid,
    /// What is determined, such as `Silver assay`.
    pub name: String,
    /// Unit of the results.
    pub unit: String,
    /// Decimals of a result.
    pub decimals: u8,
    /// Rules that judge a run; the usual six when left out.
    pub rules: Option<Vec<LabRule>>,
    /// Its control materials, in the order in which neighbouring levels are compared.
    pub levels: Vec<NewLevel>,
    /// The steps to take when a result is out.
    #[serde(default)]
    pub reaction_plan: Vec<String>,
}

/// A level to set up.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct NewLevel {
    /// Its name, such as `low`.
    pub name: String,
    /// The control material: a product of the site.
    pub material: Uuid,
    /// Mean and sd assigned to it.
    pub assigned: Assigned,
}

/// Mean and standard deviation of a control material.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Assigned {
    /// In the unit of the results, up to 1e15 in size.
    pub mean: f64,
    /// In the unit of the results, above 0, up to 1e15.
    pub sd: f64,
}

/// From so many accepted results on a level can have a mean and sd of its own.
pub const OWN_FROM: usize = 20;

impl Assigned {
    /// (result − mean)/sd.
    pub fn z(&self, result: f64) -> f64 {
        spc::multirule::z(result, self.mean, self.sd)
    }

    /// Whether they can be.
    ///
    /// # Errors
    /// The one that cannot.
    pub fn check(&self) -> Result<(), WrongField> {
        if !(-LARGEST..=LARGEST).contains(&self.mean) {
            Err(WrongField::new("mean", Allowed::Number { size: LARGEST }))
        } else if !(self.sd > 0.0 && self.sd <= LARGEST) {
            Err(WrongField::new("sd", Allowed::Positive { most: LARGEST }))
        } else {
            Ok(())
        }
    }
}

impl NewAnalyte {
    /// The rules that judge its runs.
    ///
    /// # Errors
    /// There are none, or one twice.
    pub fn rules(&self) -> Result<&[LabRule], WrongField> {
        let rules = self.rules.as_deref().unwrap_or(&LabRule::DEFAULT);
        if rules.is_empty() || !all_unlike(rules) {
            let allowed = Allowed::Entries { least: 1, most: LabRule::ALL.len() };
            return Err(WrongField::new("rules", allowed));
        }
        Ok(rules)
    }

    /// Each of its levels by name, with the characteristic that it becomes: one result a run, judged by the
    /// multirule together with the other levels; alone it is flagged only beyond 3 sd.
    ///
    /// # Errors
    /// The name, the number of levels, or a level that cannot be set up so.
    pub fn levels(&self) -> Result<Vec<(String, Characteristic)>, SetUpRefusal> {
        let analyte = name("name", &self.name)?;
        if !(1..=LEVELS_AT_MOST).contains(&self.levels.len()) {
            let allowed = Allowed::Entries { least: 1, most: LEVELS_AT_MOST };
            return Err(WrongField::new("levels", allowed).into());
        }
        let level = |level: &NewLevel| {
            level.assigned.check()?;
            let name = name("levels", &level.name)?;
            let characteristic = self.characteristic(format!("{analyte}, {name}"));
            characteristic.check()?;
            Ok((name, characteristic))
        };
        self.levels.iter().map(level).collect()
    }

    fn characteristic(&self, name: String) -> Characteristic {
        Characteristic {
            name,
            kind: Kind::Measured,
            unit: self.unit.clone(),
            decimals: self.decimals,
            chart: ChartKind::IMr,
            // A laboratory's own sd is that of all its accepted results.
            options: ChartOptions { sigma_method: SigmaMethod::Overall, ..ChartOptions::default() },
            k: usual_k(),
            subgroup_size: 1,
            varying: false,
            taken: Taken::Consecutive,
            sampling: Sampling::Shift,
            rule_set: RuleSet::Preset(Preset::LimitsOnly),
            hard_bounds: Bounds::default(),
            soft_bounds: Bounds::default(),
            specification: Specification::default(),
            reaction_plan: self.reaction_plan.clone(),
            escalates_after: usual_escalation(),
            asked_tags: vec![REAGENT_LOT.into(), CONTROL_LOT.into()],
            labels: vec![],
            hidden: false,
            feature: None,
            components: vec![],
            defect_kinds: vec![],
            parts: vec![],
            named_rules: None,
            phase_events: vec![],
            scales: vec![],
            thresholds: Default::default(),
        }
    }
}

/// The tag that names the lot of the reagent.
pub const REAGENT_LOT: &str = "reagent lot";

/// The tag that names the lot of the control material.
pub const CONTROL_LOT: &str = "control lot";

/// Whether the chart of a level has a panel of this statistic: a Levey-Jennings chart shows results about an
/// assigned mean, without moving ranges.
pub fn level_shows(statistic: Statistic) -> bool {
    statistic == Statistic::Individual
}
