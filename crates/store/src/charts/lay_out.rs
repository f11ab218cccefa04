//! Points laid out among the lines of their phases.

use quality::judging::{Ground, plot_window};
use quality::place::Place;
use spc::chart::{PanelPoint, Statistic, Sums, zones};

use super::types::{ChartPanel, ChartPhase, ChartPoint};
use crate::StoreError;
use crate::characteristics::CharacteristicView;
use crate::phases::{Phase, holding};
use crate::series::SeriesPoint;

/// Panels and phases of the rows, behind what leads in to the first of them. Signals are not computed here: they
/// stay as they were raised.
pub(super) fn lay_out(
    setup: &CharacteristicView,
    rows: &[ChartPoint],
    (lead, sums): (&[SeriesPoint], Option<Sums>),
    all_phases: &[Phase],
) -> Result<(Vec<ChartPanel>, Vec<ChartPhase>), StoreError> {
    let schemes = setup.schemes();
    let mut panels: Vec<(Statistic, Vec<PanelPoint>)> = Vec::new();
    let mut phases: Vec<ChartPhase> = Vec::new();
    let mut start = 0;
    for group in rows.chunk_by(|a, b| holding(all_phases, a.taken_at) == holding(all_phases, b.taken_at)) {
        let phase = &all_phases[holding(all_phases, group[0].taken_at)];
        let lead = if start == 0 { lead } else { &[] };
        let shown: Vec<Place> = group.iter().map(|row| row.place(&setup.characteristic, &schemes)).collect();
        let places: Vec<&Place> = lead.iter().map(|point| &point.place).chain(&shown).collect();
        let ground = Ground { figures: phase.figures, schemes: &schemes };
        let plotted = plot_window(&ground, &places, sums.filter(|_| start == 0))?;
        for (statistic, mut points) in plotted.panels {
            points.drain(..lead.len());
            if phase.figures.is_none() {
                points.iter_mut().for_each(unlimited);
            }
            let panel = match panels.iter().position(|(of, _)| *of == statistic) {
                Some(panel) => panel,
                None => {
                    panels.push((statistic, Vec::with_capacity(rows.len())));
                    panels.len() - 1
                }
            };
            // Another chart before had no such panel.
            panels[panel].1.resize(start, PanelPoint::default());
            panels[panel].1.extend(points);
        }
        let end = start + group.len() - 1;
        phases.push(ChartPhase { start, end, limits: phase.clone(), aside_since: 0 });
        start = end + 1;
    }
    let panel = |(statistic, mut points): (Statistic, Vec<PanelPoint>)| {
        points.resize(rows.len(), PanelPoint::default());
        ChartPanel { statistic, zones: zones(statistic, &points), points }
    };
    Ok((panels.into_iter().map(panel).collect(), phases))
}

/// Takes the lines away where there are too few points for limits.
fn unlimited(point: &mut PanelPoint) {
    *point = PanelPoint { value: point.value, ..PanelPoint::default() };
}
