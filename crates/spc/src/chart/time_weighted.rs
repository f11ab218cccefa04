//! What time-weighted charts share: centre and sigma by the n of the points used.

use super::lines::{Estimate, Stretch};
use super::moving::sigma_from_mean;
use super::request::ChartOptions;
use super::subgroups::{Dispersion, Location, pooled};

/// Largest subgroup whose range still holds nearly all that its s would say.
const RANGES_UP_TO: usize = 10;

/// Whether ranges serve: equal n of at most ten. Otherwise s does.
pub(crate) fn dispersion_for(mut sizes: impl Iterator<Item = usize>) -> Dispersion {
    let first = sizes.next().unwrap_or(0);
    if first <= RANGES_UP_TO && sizes.all(|n| n == first) { Dispersion::Range } else { Dispersion::Sd }
}

/// X̿ weighted with nᵢ, and within sigma from moving ranges (all n = 1), ranges (equal n up to 10) or s.
pub(super) fn estimate(stretch: Stretch, options: &ChartOptions) -> Estimate {
    let sizes = || stretch.used().map(|point| point.values().len());
    let found = pooled(stretch, Location::Mean, dispersion_for(sizes()));
    if sizes().all(|n| n == 1) {
        let sigma = sigma_from_mean(&stretch.singles(), stretch.used_flags(), options.span);
        return Estimate { sigma, ..found };
    }
    found
}
