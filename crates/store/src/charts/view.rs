//! A control chart as it is looked at: points against the limits that held, signals as raised.

use chrono::Utc;
use sqlx::PgPool;
use uuid::Uuid;

use super::lay_out::lay_out;
use super::points::latest;
use super::signals::{episodes, shown};
use super::types::{ChartNote, ChartView, POINTS_AT_MOST};
use crate::look::to_look_at;
use crate::phases::{aside_since, holding, phases};
use crate::series::{Stretch, fill_trial, lead_in};
use crate::{StoreError, characteristics, events};

/// The last `last` points, up to and including the sample `until` when one is named (with a few
/// after it, so that a pattern is seen in its surroundings).
pub async fn view(pool: &PgPool, id: Uuid, last: u32, until: Option<Uuid>) -> Result<ChartView, StoreError> {
    let mut conn = pool.acquire().await?;
    let setup = characteristics::find(&mut *conn, id).await?;
    let total =
        sqlx::query_scalar!("select next_number - 1 as \"total!\" from sample_head where characteristic_id = $1", id)
            .fetch_one(&mut *conn)
            .await?;
    let asked = i64::from(last.clamp(1, POINTS_AT_MOST));
    // One more, which says since when events belong to the points shown.
    let mut rows = latest(&mut conn, id, until, asked + 1).await?;
    rows.reverse();
    let hidden = rows.len().saturating_sub(asked as usize);
    let since = rows.get(hidden.saturating_sub(1)).map(|row| row.taken_at);
    rows.drain(..hidden);
    let mut all_phases = phases(&mut conn, id).await?;
    let mut held: Vec<usize> = rows.iter().map(|row| holding(&all_phases, row.taken_at)).collect();
    held.dedup();
    for held in &held {
        fill_trial(&mut conn, &setup, &mut all_phases, *held).await?;
    }
    let schemes = setup.schemes();
    let (lead, sums) = match rows.first().zip(held.first()) {
        Some((first, held)) => {
            let stretch = Stretch::of_phase(&setup, &schemes, &all_phases, *held);
            let scheme = schemes.holding(first.taken_at);
            let trial = all_phases[*held].hold().trial;
            lead_in(&mut conn, &stretch, trial, ((first.taken_at, first.number), scheme)).await?
        }
        None => (vec![], None),
    };
    let (mut panels, mut phases) = lay_out(&setup, &rows, (&lead, sums), &all_phases)?;
    panels.retain(|panel| setup.shows(panel.statistic));
    for (phase, held) in phases.iter_mut().zip(&held) {
        phase.aside_since = aside_since(&mut conn, id, &all_phases, *held).await?;
    }
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
    let episodes = episodes(&mut conn, &signals).await?;
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
    let look = to_look_at(&mut *conn, Some(id), Utc::now().date_naive()).await?.pop();
    Ok(ChartView { characteristic: setup, total, points: rows, panels, phases, signals, episodes, notes, look, events })
}
