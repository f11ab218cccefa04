//! Points laid out among the lines of their phases.

use quality::characteristic::Characteristic;
use quality::sample::{Plotted, points};
use spc::chart::{ChartRequest, Limits, PanelPoint, compute, zones};

use super::types::{ChartPanel, ChartPhase, ChartPoint};
use crate::StoreError;
use crate::phases::{Phase, holding};

/// Panels and phases of the rows behind the first `hidden`. Signals are not computed here: they
/// stay as they were raised.
pub(super) fn lay_out(
    characteristic: &Characteristic,
    rows: &[ChartPoint],
    hidden: usize,
    all_phases: &[Phase],
) -> Result<(Vec<ChartPanel>, Vec<ChartPhase>), StoreError> {
    if rows.is_empty() {
        return Ok((vec![], vec![]));
    }
    let mut starts: Vec<(usize, &Phase)> = Vec::new();
    for (i, row) in rows.iter().enumerate() {
        let phase = &all_phases[holding(all_phases, row.taken_at)];
        if starts.last().is_none_or(|(_, before)| before.id != phase.id) {
            starts.push((i, phase));
        }
    }
    let plotted: Vec<Plotted> = rows.iter().map(|row| row.plotted(characteristic.kind)).collect();
    let request = ChartRequest {
        phases: starts.iter().map(|(start, _)| *start).collect(),
        limits: starts.iter().map(|(_, phase)| limits_of(phase)).collect(),
        options: characteristic.chart_options(),
        ..ChartRequest::new(characteristic.chart, points(characteristic.kind, &plotted))
    };
    let answer = compute(&request)?;
    let mut panels: Vec<ChartPanel> = answer
        .panels
        .into_iter()
        .map(|panel| ChartPanel { statistic: panel.statistic, points: panel.points().collect(), zones: vec![] })
        .collect();
    let mut phases = Vec::new();
    for ((start, phase), computed) in starts.iter().zip(&answer.phases) {
        if phase.figures().is_none() {
            for panel in &mut panels {
                panel.points[*start..=computed.end].iter_mut().for_each(unlimited);
            }
        }
        if computed.end >= hidden {
            let start = start.saturating_sub(hidden);
            phases.push(ChartPhase { start, end: computed.end - hidden, limits: (*phase).clone() });
        }
    }
    for panel in &mut panels {
        panel.points.drain(..hidden);
        panel.zones = zones(panel.statistic, &panel.points);
    }
    Ok((panels, phases))
}

fn limits_of(phase: &Phase) -> Limits {
    phase.figures().map_or(Limits::ESTIMATED, |figures| figures.as_given())
}

/// Takes the lines away where there are too few points for limits.
fn unlimited(point: &mut PanelPoint) {
    *point = PanelPoint { value: point.value, ..PanelPoint::default() };
}
