//! A control chart as it is looked at: points against the limits that held, signals as raised.

use chrono::{DateTime, Utc};
use quality::characteristic::{Characteristic, Kind};
use quality::entry::Tags;
use quality::sample::{Content, Counts, Defects, Plotted, Readings, points};
use serde::Serialize;
use spc::chart::{ChartRequest, Limits, PanelPoint, Statistic, compute};
use spc::rules::{Rule, Side};
use sqlx::types::Json;
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::characteristics::{self, Setup};
use crate::events::{self, Event};
use crate::limits::{Phase, fill_trial, holding, phases};
use crate::samples::{Pencil, PencilPoint};
use crate::signals::{self, SignalState};
use crate::window::Window;

/// More points than this are not sent at once.
pub const POINTS_AT_MOST: u32 = 2000;

/// A chart of the last points of a characteristic.
#[derive(Debug, Serialize, ToSchema)]
pub struct ChartView {
    /// What is charted.
    pub characteristic: Setup,
    /// Samples that the characteristic has in all.
    pub total: i64,
    /// The points shown, in order of sample time, then arrival.
    pub points: Vec<ChartPoint>,
    /// Panels in drawing order; each has one entry a point.
    pub panels: Vec<ChartPanel>,
    /// The phases that the points lie in.
    pub phases: Vec<ChartPhase>,
    /// Signals that touch the points shown.
    pub signals: Vec<ChartSignal>,
    /// Notes on the points shown.
    pub notes: Vec<ChartNote>,
    /// What happened at the station while these points were taken.
    pub events: Vec<Event>,
}

/// One sample on the chart.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct ChartPoint {
    /// The sample.
    pub sample: Uuid,
    /// Its number.
    pub number: i64,
    /// When it was taken.
    pub taken_at: DateTime<Utc>,
    /// When it reached the server.
    pub arrived_at: DateTime<Utc>,
    /// Who entered it.
    pub person: String,
    /// The shift, from the calendar, and what was asked.
    pub tags: Tags,
    /// What it recorded; of a withdrawn sample what it had recorded, of a skipped one nothing.
    pub content: Option<Content>,
    /// Why there is a gap.
    pub gap: Option<Gap>,
    /// Counts its changes.
    pub version: i32,
    /// Earlier contents are on record.
    pub corrected: bool,
}

/// Why a place on the chart is empty.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Gap {
    /// A sample was taken and withdrawn; else none was taken.
    pub withdrawn: bool,
    /// Why, in words.
    pub because: String,
    /// Who skipped or withdrew it.
    pub person: String,
}

/// One panel.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct ChartPanel {
    /// What it plots.
    pub statistic: Statistic,
    /// Its points.
    pub points: Vec<PanelPoint>,
}

/// A phase as far as it is shown.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct ChartPhase {
    /// First point shown of it.
    pub start: usize,
    /// Last point shown of it.
    pub end: usize,
    /// Its limits.
    pub limits: Phase,
}

/// A signal on the chart. Places before the first point shown are 0.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct ChartSignal {
    /// The signal.
    pub id: Uuid,
    /// The panel it was found in.
    pub panel: Statistic,
    /// The rule that was broken.
    pub rule: Rule,
    /// Its side.
    pub side: Option<Side>,
    /// First point of the pattern.
    pub from: usize,
    /// The first flagged point.
    pub at: usize,
    /// The last flagged point.
    pub to: usize,
    /// Where it stands.
    pub state: SignalState,
    /// Raised against trial limits.
    pub trial: bool,
}

/// A note on a point.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct ChartNote {
    /// The point.
    pub point: usize,
    /// What it says.
    pub text: String,
    /// Who wrote it.
    pub person: String,
    /// When.
    pub at: DateTime<Utc>,
}

/// The last `last` points, up to and including the sample `until` when one is named (with a few
/// after it, so that a pattern is seen in its surroundings).
pub async fn view(pool: &PgPool, id: Uuid, last: u32, until: Option<Uuid>) -> Result<ChartView, StoreError> {
    let mut conn = pool.acquire().await?;
    let setup = characteristics::find(&mut *conn, id).await?;
    let characteristic = &setup.characteristic;
    let total =
        sqlx::query_scalar!("select next_number - 1 as \"total!\" from sample_head where characteristic_id = $1", id)
            .fetch_one(&mut *conn)
            .await?;
    // Moving ranges of the first points reach back further than what is shown.
    let reach = characteristic.chart_options().span - 1;
    let shown = i64::from(last.clamp(1, POINTS_AT_MOST));
    let mut rows = rows(&mut conn, id, until, shown + reach as i64).await?;
    rows.reverse();
    let hidden = rows.len().saturating_sub(shown as usize);
    let mut all_phases = phases(&mut conn, id).await?;
    let mut held: Vec<usize> = rows.iter().map(|row| holding(&all_phases, row.taken_at)).collect();
    held.dedup();
    for held in held {
        fill_trial(&mut conn, (id, characteristic), &mut all_phases, held).await?;
    }
    let (mut panels, phases) = lay_out(characteristic, &rows, hidden, &all_phases)?;
    if setup.analyte.is_some() {
        // Levey-Jennings: results about the assigned mean, without moving ranges.
        panels.truncate(1);
    }
    let since = rows.get(hidden.saturating_sub(1)).map(|row| row.taken_at);
    rows.drain(..hidden);
    // What happened after the newest point shown belongs to it only while there is no later point.
    let ends = until.and_then(|_| rows.last().map(|row| row.taken_at));
    let events = match since {
        Some(since) => events::between(&mut conn, setup.station_id, since, ends).await?,
        None => vec![],
    };
    let ids: Vec<Uuid> = rows.iter().map(|row| row.sample).collect();
    let signals = match rows.first().zip(rows.last()) {
        Some((first, last)) => signals::shown(&mut conn, id, &ids, first.taken_at, last.taken_at).await?,
        None => vec![],
    };
    let mut notes: Vec<ChartNote> = sqlx::query!(
        "select n.sample_id, n.text, p.name as person, n.at from note n join person p on p.id = n.person_id
         where n.sample_id = any($1) order by n.at",
        &ids
    )
    .fetch_all(&mut *conn)
    .await?
    .into_iter()
    .filter_map(|row| {
        let point = ids.iter().position(|id| *id == row.sample_id)?;
        Some(ChartNote { point, text: row.text, person: row.person, at: row.at })
    })
    .collect();
    notes.sort_by_key(|note| note.point);
    for signal in &signals {
        if let Some(panel) = panels.iter_mut().find(|panel| panel.statistic == signal.panel) {
            for point in panel.points.iter_mut().take(signal.to + 1).skip(signal.at) {
                point.flagged = point.value.get().is_some();
            }
        }
    }
    Ok(ChartView { characteristic: setup, total, points: rows, panels, phases, signals, notes, events })
}

/// The newest `most` points up to `until`, newest first.
async fn rows(
    conn: &mut PgConnection,
    id: Uuid,
    until: Option<Uuid>,
    most: i64,
) -> Result<Vec<ChartPoint>, StoreError> {
    let rows = sqlx::query!(
        r#"select s.id, s.number, s.taken_at, s.arrived_at, p.name as person, s.tags as "tags: Json<Tags>", s.version,
                  s.readings as "readings: Vec<Option<f64>>", s.components as "components: Vec<Option<f64>>",
                  s.inspected, s.defects as "defects: Json<Vec<Defects>>", s.skipped_because, s.withdrawn_because,
                  w.name as "withdrawn_by?", exists (select from correction where sample_id = s.id) as "corrected!"
           from sample s
           join person p on p.id = s.person_id
           left join person w on w.id = s.withdrawn_by
           where s.characteristic_id = $1
             and ($2::uuid is null or s.taken_at <= coalesce(
                 (select taken_at from sample after where after.characteristic_id = $1 and after.taken_at >
                     (select taken_at from sample where id = $2 and characteristic_id = $1)
                  order by after.taken_at, after.number offset 4 limit 1), 'infinity'))
           order by s.taken_at desc, s.number desc
           limit $3"#,
        id,
        until,
        most
    )
    .fetch_all(conn)
    .await?;
    let points = rows.into_iter().map(|row| {
        let content = match (row.readings, row.inspected) {
            (Some(values), _) => Some(Content::Readings(Readings { values, components: row.components })),
            (None, Some(inspected)) => {
                Some(Content::Counts(Counts { inspected: inspected.unsigned_abs(), defects: row.defects.0 }))
            }
            (None, None) => None,
        };
        let gap = match (row.skipped_because, row.withdrawn_because) {
            (Some(because), _) => Some(Gap { withdrawn: false, because, person: row.person.clone() }),
            (None, Some(because)) => {
                Some(Gap { withdrawn: true, because, person: row.withdrawn_by.unwrap_or_default() })
            }
            (None, None) => None,
        };
        ChartPoint {
            sample: row.id,
            number: row.number,
            taken_at: row.taken_at,
            arrived_at: row.arrived_at,
            person: row.person,
            tags: row.tags.0,
            content,
            gap,
            version: row.version,
            corrected: row.corrected,
        }
    });
    Ok(points.collect())
}

impl ChartPoint {
    fn plotted(&self, kind: Kind) -> Plotted {
        let content = self.content.as_ref().filter(|_| self.gap.is_none());
        content.map_or(Plotted::gap(kind), Content::plotted)
    }
}

/// Panels and phases of the rows behind the first `hidden`. Signals are not computed here: they
/// stay as they were raised.
fn lay_out(
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
        .map(|panel| ChartPanel { statistic: panel.statistic, points: panel.points().collect() })
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

/// The pencil point where there are no limits yet.
pub(crate) fn without_limits(characteristic: &Characteristic, window: &Window) -> Result<Pencil, StoreError> {
    let request = ChartRequest {
        options: characteristic.chart_options(),
        ..ChartRequest::new(characteristic.chart, points(characteristic.kind, window.plotted()))
    };
    let panels = compute(&request)?
        .panels
        .iter()
        .map(|panel| PencilPoint {
            statistic: panel.statistic,
            value: panel.point(window.changed).value.get(),
            center: None,
            lower: None,
            upper: None,
            flagged: false,
        })
        .collect();
    Ok(Pencil { panels, findings: vec![] })
}
