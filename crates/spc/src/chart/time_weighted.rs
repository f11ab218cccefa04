//! What time-weighted charts share: centre and sigma by the n of the points used.

use super::figures::{Estimate, Figures};
use super::request::ChartOptions;
use crate::sigma::{Location, Stretch, dispersion_for, pooled, sigma_from_mean};

/// X̿ weighted with nᵢ, and within sigma from moving ranges (all n = 1), ranges (equal n up to 10) or s.
pub(super) fn estimate(stretch: Stretch, options: &ChartOptions) -> Estimate {
    let sizes = || stretch.used().map(|point| point.values().len());
    let found: Estimate = pooled(stretch, Location::Mean, dispersion_for(sizes())).into();
    if sizes().all(|n| n == 1) {
        let sigma = sigma_from_mean(&stretch.singles(), stretch.used_flags(), options.span);
        return Estimate { figures: Figures { sigma, ..found.figures }, ..found };
    }
    found
}
