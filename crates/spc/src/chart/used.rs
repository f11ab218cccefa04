//! Which points of a request an estimate may use.

use super::request::{ChartRequest, LimitsBasis};

/// Whether each point of the series is set aside.
pub(crate) fn set_aside(request: &ChartRequest) -> Vec<bool> {
    let mut aside = vec![false; request.points.len()];
    request.excluded.iter().for_each(|&i| aside[i] = true);
    aside
}

/// Whether each point of the series may be used for the estimate of its phase.
pub(crate) fn usable(request: &ChartRequest, aside: &[bool]) -> Vec<bool> {
    let mut usable: Vec<bool> = aside.iter().map(|aside| !aside).collect();
    if !request.points.has_no_gaps() {
        for (i, used) in usable.iter_mut().enumerate() {
            *used &= !request.points.get(i).is_gap();
        }
    }
    for (phase, limits) in request.limits.iter().enumerate() {
        let (start, end) = request.phase_bounds(phase);
        if let LimitsBasis::Estimated { from, to, .. } = limits.basis
            && from.or(to).is_some()
        {
            let range = from.unwrap_or(start)..=to.unwrap_or(end);
            for (i, used) in usable.iter_mut().enumerate().take(end + 1).skip(start) {
                *used &= range.contains(&i);
            }
        }
    }
    usable
}
