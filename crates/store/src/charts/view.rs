//! A control chart as it is looked at: points against the limits that held, signals as raised.

use chrono::Utc;
use serde::Serialize;
use spc::Figure;
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use super::asked::ranks;
use super::columns::{self, PanelColumns, PointColumns};
use super::drawn_points::drawn;
use super::gather::{Gathered, gather};
use super::notes::{ChartNote, notes};
use super::points::details;
use super::signals::{bundled, episodes};
use super::types::{Asked, ChartEpisode, ChartPanel, ChartPhase, ChartPoint, ChartSignal, PLACES_AT_MOST};
use crate::characteristics::CharacteristicView;
use crate::events::Event;
use crate::look::{ToLookAt, to_look_at};
use crate::once::compiled_once;
use crate::phases::aside_since;
use crate::{StoreError, characteristics, events};

/// A stretch of the chart of a characteristic, as it is looked at.
#[derive(Debug, Serialize, ToSchema)]
pub struct ChartView {
    /// What is charted.
    pub characteristic: CharacteristicView,
    /// Samples that the characteristic has in all.
    pub total: i64,
    /// How many places its axis has: one a sample, in order of sample time, then arrival.
    pub places: usize,
    /// Where more points lie than there is room for, only some are drawn: all that are flagged while that is possible,
    /// the lowest and highest of everywhere, and first and last of each phase. One that is drawn stands for those that
    /// follow it up to the next one.
    #[serde(serialize_with = "columns::points")]
    #[schema(value_type = PointColumns)]
    pub points: Vec<ChartPoint>,
    /// Not all flagged points are drawn, there are too many.
    pub flags_thinned: bool,
    /// Panels in drawing order, of the points drawn.
    #[serde(serialize_with = "columns::panels")]
    #[schema(value_type = Vec<PanelColumns>)]
    pub panels: Vec<ChartPanel>,
    /// The phases that the points lie in.
    pub phases: Vec<ChartPhase>,
    /// Signals that touch the points shown; whoever draws them draws their episodes.
    #[serde(skip)]
    pub signals: Vec<ChartSignal>,
    /// Signals of one happening.
    pub episodes: Vec<ChartEpisode>,
    /// Notes on the points shown: in the order of these, each followed by its answers.
    pub notes: Vec<ChartNote>,
    /// Its limits are to be looked at.
    pub look: Option<ToLookAt>,
    /// What happened at the station while these points were taken.
    pub events: Vec<Event>,
}

/// A stretch of the chart of a characteristic.
///
/// # Errors
/// Where there is no such characteristic, or no sample of the number that the stretch begins or ends at.
#[compiled_once]
pub async fn view(pool: &PgPool, id: Uuid, asked: &Asked) -> Result<ChartView, StoreError> {
    let mut conn = pool.acquire().await?;
    let setup = characteristics::find(&mut *conn, id).await?;
    let total =
        sqlx::query_scalar!("select next_number - 1 as \"total!\" from sample_head where characteristic_id = $1", id)
            .fetch_one(&mut *conn)
            .await?;
    let (from, to) = ranks(&mut conn, id, asked).await?;
    let last = asked.last.clamp(1, PLACES_AT_MOST) as usize;
    let gathered = gather(&mut conn, &setup, (from, to), last).await?;
    let Gathered { series, since, panels, mut phases, all_phases, held, signals } = gathered;
    for (phase, held) in phases.iter_mut().zip(&held) {
        phase.aside_since = aside_since(&mut conn, id, &all_phases, *held).await?;
    }
    // What happened after the newest point shown belongs to it only while there is no later point.
    let ends = to.and_then(|_| series.last().map(|point| point.taken_at));
    let events = match since {
        Some(since) => events::between(&mut conn, setup.station_id, since, ends).await?,
        None => vec![],
    };
    let notes = notes(&mut conn, id, &series).await?;
    let mut told: Vec<bool> = series.iter().map(|point| point.place.aside || point.place.restart).collect();
    notes.iter().for_each(|note| told[note.place] = true);
    let drawn = drawn(&panels, &phases, &told, asked.drawn);
    let numbers: Vec<(usize, i64)> = drawn.places.iter().map(|place| (*place, series[*place].number)).collect();
    let episodes = episodes(&mut conn, &signals).await?;
    let look = to_look_at(&mut *conn, Some(id), Utc::now().date_naive()).await?.pop();
    Ok(ChartView {
        characteristic: setup,
        total,
        places: series.len(),
        points: details(&mut conn, id, &numbers).await?,
        flags_thinned: drawn.flags_thinned,
        panels: panels.iter().map(|panel| panel.at(&drawn.places)).collect(),
        phases,
        episodes: bundled(episodes, series.len()),
        signals,
        notes,
        look,
        events,
    })
}

/// A sample that was added at the end of its chart.
#[derive(Debug, Serialize, ToSchema)]
pub struct AddedPoint {
    /// Its chart, of this point alone.
    chart: ChartView,
    /// How many sigma it lies from the centre line of the first panel.
    #[schema(value_type = Option<f64>)]
    z: Figure,
}

/// The point of a sample that was added.
///
/// # Errors
/// Where there is no such sample.
#[compiled_once]
pub async fn added(pool: &PgPool, id: Uuid, number: i64) -> Result<AddedPoint, StoreError> {
    let asked = Asked { from: Some(number), to: Some(number), ..Asked::last(1) };
    let chart = view(pool, id, &asked).await?;
    let z = chart.panels.first().and_then(|panel| panel.points.first()).map_or(Figure::NONE, |point| point.z);
    Ok(AddedPoint { chart, z })
}
