//! Estimators of sigma: of subgroups, of moving ranges, of counts. Charts, capability and the checks of
//! limits share them.

mod counts;
mod moving;
mod pooled;
mod stretch;

pub(crate) use counts::Counted;
pub(crate) use moving::{MovingRange, Totals, sigma_from_mean, sigma_from_median};
pub(crate) use pooled::{Dispersion, Location, Pooled, dispersion_for, pooled};
pub(crate) use stretch::Stretch;
