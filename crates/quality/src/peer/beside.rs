//! Own results beside the group's, month by month, for each level and lot.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use spc::peer::{PeerRequest, Summary as Figures, peer};

use super::statistic::Month;
use crate::run::Summary;

/// A result that was given.
#[derive(Debug, Clone, PartialEq)]
pub struct OwnResult {
    /// When it was measured.
    pub month: Month,
    /// Lot of the control material.
    pub control_lot: Option<String>,
    /// Lot of the reagent.
    pub reagent_lot: Option<String>,
    /// As it was given.
    pub value: f64,
}

/// What the group told of a month.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Told {
    /// Of the level.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub month: Month,
    /// Of all lots where none is named.
    pub control_lot: Option<String>,
    /// Of all lots where none is named.
    pub reagent_lot: Option<String>,
    /// How many laboratories.
    pub laboratories: Option<u32>,
    /// How many results.
    pub n: u64,
    /// Their mean.
    pub mean: f64,
    /// Their standard deviation.
    pub sd: f64,
}

impl Told {
    /// How well it fits own results with these lots: the more lots it names, the better, the control material's first;
    /// nothing where it is of others.
    fn fits(&self, control_lot: Option<&str>, reagent_lot: Option<&str>) -> Option<u8> {
        let of = |told: Option<&str>, own| match told {
            None => Some(0),
            told if told == own => Some(1),
            _ => None,
        };
        Some(of(self.control_lot.as_deref(), control_lot)? * 2 + of(self.reagent_lot.as_deref(), reagent_lot)?)
    }
}

/// How far own results are from the group's, by the size of the SDI.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Distance {
    /// Up to 1: as most laboratories are.
    Near,
    /// Up to 2: to be watched.
    Apart,
    /// Beyond 2: as few are.
    Far,
}

impl Distance {
    fn of(sdi: f64) -> Self {
        match sdi.abs() {
            ..=1.0 => Self::Near,
            ..=2.0 => Self::Apart,
            _ => Self::Far,
        }
    }
}

/// How own results lie beside the group's.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Beside {
    /// 100 (mean − group's mean)/group's mean; nothing where that is 0.
    pub bias_percent: Option<f64>,
    /// (mean − group's mean)/group's sd.
    pub sdi: f64,
    /// CV/group's CV; nothing of fewer results than two, or where a mean is 0.
    pub cvr: Option<f64>,
    /// How far that is.
    pub distance: Distance,
}

impl Beside {
    /// Of own results that have a mean, and a group that has more than one value.
    fn of(own: &Summary, told: &Told) -> Option<Self> {
        let n = u64::try_from(own.n).ok()?;
        let own_figures = Figures { n, mean: own.mean?, sd: own.sd.unwrap_or(0.0) };
        let group = Figures { n: told.n, mean: told.mean, sd: told.sd };
        let answer = peer(&PeerRequest { own: own_figures, peer: group }).ok()?;
        let cvr = answer.cvr.filter(|_| own.sd.is_some());
        Some(Self { bias_percent: answer.bias_percent, sdi: answer.sdi, cvr, distance: Distance::of(answer.sdi) })
    }
}

/// One month of a level with its lots.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MonthBeside {
    /// The month.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub month: Month,
    /// Own results.
    pub own: Summary,
    /// What fits them best of what the group told of the month; nothing as long as it has told nothing.
    pub told: Option<Told>,
    /// How both compare.
    pub beside: Option<Beside>,
}

/// Months of a level with one lot of reagent and one of control material.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LotBeside {
    /// Lot of the control material.
    pub control_lot: Option<String>,
    /// Lot of the reagent.
    pub reagent_lot: Option<String>,
    /// The oldest first; those alone that have own results.
    pub months: Vec<MonthBeside>,
}

/// Own results of a level beside what the group told of it: by lots, in the order in which they came into use.
pub fn beside(own: &[OwnResult], told: &[Told]) -> Vec<LotBeside> {
    type Lots<'a> = (Option<&'a str>, Option<&'a str>);
    let mut lots: BTreeMap<Lots<'_>, BTreeMap<Month, Vec<f64>>> = BTreeMap::new();
    for result in own {
        let of = (result.control_lot.as_deref(), result.reagent_lot.as_deref());
        lots.entry(of).or_default().entry(result.month).or_default().push(result.value);
    }
    let mut all: Vec<LotBeside> = lots
        .into_iter()
        .map(|((control_lot, reagent_lot), months)| {
            let month = |(month, values): (Month, Vec<f64>)| {
                let own = Summary::of(&values);
                let fitting = told.iter().filter(|told| told.month == month);
                let ranked = fitting.filter_map(|told| Some((told.fits(control_lot, reagent_lot)?, told)));
                let told = ranked.max_by_key(|(rank, _)| *rank).map(|(_, told)| told.clone());
                let beside = told.as_ref().and_then(|told| Beside::of(&own, told));
                MonthBeside { month, own, told, beside }
            };
            LotBeside {
                control_lot: control_lot.map(str::to_owned),
                reagent_lot: reagent_lot.map(str::to_owned),
                months: months.into_iter().map(month).collect(),
            }
        })
        .collect();
    all.sort_by_key(|lot| lot.months.first().map(|month| month.month));
    all
}
