//! A stretch of a characteristic laid out: its places, panels with what signals flag, and phases.

use chrono::{DateTime, Utc};
use sqlx::PgConnection;

use super::lay_out::lay_out;
use super::signals::shown;
use super::types::{ChartPanel, ChartPhase, ChartSignal};
use crate::StoreError;
use crate::characteristics::CharacteristicView;
use crate::phases::{Phase, holding, phases};
use crate::series::{Rank, SeriesPoint, Stretch, fill_trial, lead_in};

/// What a stretch of a chart shows, all of its points.
pub(super) struct Gathered {
    pub series: Vec<SeriesPoint>,
    /// When the point before the first one was taken, or the first one where it begins the chart.
    pub since: Option<DateTime<Utc>>,
    pub panels: Vec<ChartPanel>,
    pub phases: Vec<ChartPhase>,
    /// All phases of the characteristic, and which of them the points lie in.
    pub all_phases: Vec<Phase>,
    pub held: Vec<usize>,
    pub signals: Vec<ChartSignal>,
}

/// The `last` latest points between two ranks.
pub(super) async fn gather(
    conn: &mut PgConnection,
    setup: &CharacteristicView,
    ranks: (Option<Rank>, Option<Rank>),
    last: usize,
) -> Result<Gathered, StoreError> {
    let schemes = setup.schemes();
    // One more, which says since when events belong to the points shown.
    let mut series = Stretch::all(setup, &schemes).latest(&mut *conn, ranks, last + 1).await?;
    let hidden = series.len().saturating_sub(last);
    let since = series.get(hidden.saturating_sub(1)).map(|point| point.taken_at);
    series.drain(..hidden);
    let mut all_phases = phases(&mut *conn, setup.id).await?;
    let mut held: Vec<usize> = series.iter().map(|point| holding(&all_phases, point.taken_at)).collect();
    held.dedup();
    for held in &held {
        fill_trial(&mut *conn, setup, &mut all_phases, *held).await?;
    }
    let (lead, sums) = match series.first().zip(held.first()) {
        Some((first, held)) => {
            let stretch = Stretch::of_phase(setup, &schemes, &all_phases, *held);
            let trial = all_phases[*held].hold().trial;
            lead_in(&mut *conn, &stretch, trial, (first.rank(), first.place.scheme)).await?
        }
        None => (vec![], None),
    };
    let (mut panels, phases) = lay_out(setup, &series, (&lead, sums), &all_phases)?;
    panels.retain(|panel| setup.shows(panel.statistic));
    let signals = shown(conn, setup.id, &series).await?;
    for signal in &signals {
        if let Some(panel) = panels.iter_mut().find(|panel| panel.statistic == signal.panel) {
            for point in panel.points.iter_mut().take(signal.to + 1).skip(signal.at) {
                point.flagged = point.value.get().is_some();
            }
        }
    }
    Ok(Gathered { series, since, panels, phases, all_phases, held, signals })
}
