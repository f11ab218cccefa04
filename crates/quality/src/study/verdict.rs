//! Able, barely able, not able: an index against thresholds.

use serde::{Deserialize, Serialize};
use spc::capability::{Capability, Interval};
use spc::distribution::Family;

use crate::thresholds::{Standing, Thresholds};

/// Which index the verdict rests on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Index {
    /// Within: what the process could do if it stayed where it is.
    Cpk,
    /// Overall, of the fitted family where the values are not taken as normal.
    Ppk,
}

/// What is to be said of a process, and how sure it is.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CapabilityVerdict {
    /// The index it rests on.
    pub index: Index,
    /// That index.
    pub value: f64,
    /// Lower end of its 95 % interval, where it has one.
    pub low: Option<f64>,
    /// Where the index stands.
    pub standing: Standing,
    /// Where the lower end of its interval stands: the verdict is sure where both say the same.
    pub low_standing: Option<Standing>,
}

impl Thresholds {
    /// The verdict on a process: by Cpk; by Ppk of the fitted family where that is not the normal, or where sigma
    /// within cannot be estimated.
    pub fn verdict(&self, of: &Capability) -> Option<CapabilityVerdict> {
        let normal = of.distribution.distribution.family() == Family::Normal;
        let (index, value, interval): (Index, f64, Interval) = match of.cpk.filter(|_| normal) {
            Some(cpk) => (Index::Cpk, cpk, of.intervals.cpk),
            None => (Index::Ppk, of.ppk?, of.intervals.ppk),
        };
        let low = interval.map(|[low, _]| low);
        let standing = self.standing(value);
        Some(CapabilityVerdict { index, value, low, standing, low_standing: low.map(|low| self.standing(low)) })
    }
}
