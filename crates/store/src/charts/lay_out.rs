//! Points laid out among the lines of their phases.

use quality::judging::{Ground, plot_window};
use quality::place::Place;
use spc::chart::{PanelPoint, Sums};

use super::types::{ChartPanel, ChartPhase};
use crate::StoreError;
use crate::characteristics::CharacteristicView;
use crate::phases::{Phase, holding};
use crate::series::SeriesPoint;

/// Panels and phases of the points, behind what leads in to the first of them. Signals are not computed here: they
/// stay as they were raised.
pub(super) fn lay_out(
    setup: &CharacteristicView,
    shown: &[SeriesPoint],
    (lead, sums): (&[SeriesPoint], Option<Sums>),
    all_phases: &[Phase],
) -> Result<(Vec<ChartPanel>, Vec<ChartPhase>), StoreError> {
    let schemes = setup.schemes();
    let mut panels: Vec<ChartPanel> = Vec::new();
    let mut phases: Vec<ChartPhase> = Vec::new();
    let mut start = 0;
    for group in shown.chunk_by(|a, b| holding(all_phases, a.taken_at) == holding(all_phases, b.taken_at)) {
        let phase = &all_phases[holding(all_phases, group[0].taken_at)];
        let lead = if start == 0 { lead } else { &[] };
        let places: Vec<&Place> = lead.iter().chain(group).map(|point| &point.place).collect();
        let ground = Ground { figures: phase.figures, schemes: &schemes };
        let plotted = plot_window(&ground, &places, sums.filter(|_| start == 0))?;
        for (statistic, mut points) in plotted.panels {
            points.drain(..lead.len());
            if phase.figures.is_none() {
                points.iter_mut().for_each(unlimited);
            }
            let panel = match panels.iter().position(|panel| panel.statistic == statistic) {
                Some(panel) => panel,
                None => {
                    panels.push(ChartPanel { statistic, points: Vec::with_capacity(shown.len()) });
                    panels.len() - 1
                }
            };
            // Another chart before had no such panel.
            panels[panel].points.resize(start, PanelPoint::default());
            panels[panel].points.extend(points);
        }
        let end = start + group.len() - 1;
        phases.push(ChartPhase { start, end, limits: phase.clone(), aside_since: 0 });
        start = end + 1;
    }
    panels.iter_mut().for_each(|panel| panel.points.resize(shown.len(), PanelPoint::default()));
    Ok((panels, phases))
}

/// Takes the lines away where there are too few points for limits.
fn unlimited(point: &mut PanelPoint) {
    *point = PanelPoint { value: point.value, ..PanelPoint::default() };
}
