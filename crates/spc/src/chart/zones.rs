//! The zones A, B and C of a panel: one, two and three sigma about the centre, as the rules look at them.

use serde::Serialize;

use super::panel_point::PanelPoint;
use super::statistic::Statistic;

/// Points that share their zones.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Zones {
    /// First point.
    pub from: usize,
    /// Last point, inclusive.
    pub to: usize,
    /// centre − 2σ, centre − σ, centre + σ, centre + 2σ, with the σ of the statistic.
    pub edges: [f64; 4],
}

/// The zones of a panel, from point to point where they are the same; none where no rule looks at them: at ranges,
/// counts, sums and averages, and where there is no centre or sigma.
pub fn zones(statistic: Statistic, points: &[PanelPoint]) -> Vec<Zones> {
    let mut all: Vec<Zones> = Vec::new();
    if !statistic.is_location() {
        return all;
    }
    for (i, point) in points.iter().enumerate() {
        let Some((center, sigma)) = point.center.get().zip(point.sigma.get()) else { continue };
        let edges = [-2.0, -1.0, 1.0, 2.0].map(|z| center + z * sigma);
        match all.last_mut() {
            Some(last) if last.to + 1 == i && last.edges == edges => last.to = i,
            _ => all.push(Zones { from: i, to: i, edges }),
        }
    }
    all
}

#[cfg(test)]
mod tests {
    use super::{Zones, zones};
    use crate::Figure;
    use crate::chart::{PanelPoint, Statistic};

    fn point(center: f64, sigma: f64) -> PanelPoint {
        PanelPoint { center: Figure::new(center), sigma: Figure::new(sigma), ..PanelPoint::default() }
    }

    #[test]
    fn zones_stretch_as_far_as_the_lines_stand_still() {
        let points = [point(5.0, 0.5), point(5.0, 0.5), point(f64::NAN, 0.5), point(5.0, 0.5), point(5.0, 0.25)];
        let wide = [4.0, 4.5, 5.5, 6.0];
        let expected = [
            Zones { from: 0, to: 1, edges: wide },
            Zones { from: 3, to: 3, edges: wide },
            Zones { from: 4, to: 4, edges: [4.5, 4.75, 5.25, 5.5] },
        ];
        assert_eq!(zones(Statistic::Mean, &points), expected);
        assert_eq!(zones(Statistic::Range, &points), []);
    }
}
