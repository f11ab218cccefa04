//! A control chart as it is looked at: points against the limits that held, signals as raised.

use sqlx::PgPool;
use uuid::Uuid;

use super::lay_out::lay_out;
use super::points::latest;
use super::signals::shown;
use super::types::{ChartNote, ChartView, POINTS_AT_MOST};
use crate::limits::fill_trial;
use crate::phases::{holding, phases};
use crate::{StoreError, characteristics, events};

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
    let asked = i64::from(last.clamp(1, POINTS_AT_MOST));
    let mut rows = latest(&mut conn, id, until, asked + reach as i64).await?;
    rows.reverse();
    let hidden = rows.len().saturating_sub(asked as usize);
    let mut all_phases = phases(&mut conn, id).await?;
    let mut held: Vec<usize> = rows.iter().map(|row| holding(&all_phases, row.taken_at)).collect();
    held.dedup();
    for held in held {
        fill_trial(&mut conn, (id, characteristic), &mut all_phases, held).await?;
    }
    let (mut panels, phases) = lay_out(characteristic, &rows, hidden, &all_phases)?;
    panels.retain(|panel| setup.shows(panel.statistic));
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
        Some((first, last)) => shown(&mut conn, id, &ids, first.taken_at, last.taken_at).await?,
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
