//! Signals on a chart, as they were raised, and their episodes.

use chrono::{DateTime, Utc};
use quality::episode::{Aspect, Found, patterns};
use quality::signal::{Broken, SignalState};
use spc::rules::Side;
use sqlx::PgConnection;
use sqlx::types::Json;
use uuid::Uuid;

use super::types::{ChartEpisode, ChartSignal};
use crate::{StoreError, word};

/// Signals that touch the samples shown on a chart.
pub(super) async fn shown(
    conn: &mut PgConnection,
    characteristic: Uuid,
    samples: &[Uuid],
    first: DateTime<Utc>,
    last: DateTime<Utc>,
) -> Result<Vec<ChartSignal>, StoreError> {
    let place = |sample: Uuid| samples.iter().position(|id| *id == sample);
    let rows = sqlx::query!(
        r#"select id, panel, rule as "rule: Json<Broken>", side, from_sample, at_sample, to_sample, state, trial,
                  episode_id as "episode!"
           from signal
           where characteristic_id = $1 and withdrawn_at is null and to_taken_at >= $2 and at_taken_at <= $3
           order by at_taken_at, raised_at"#,
        characteristic,
        first,
        last
    )
    .fetch_all(conn)
    .await?;
    let mut shown = Vec::with_capacity(rows.len());
    for row in rows {
        // A pattern that ends behind the last point shown is drawn to the edge.
        let to = place(row.to_sample).unwrap_or(samples.len() - 1);
        shown.push(ChartSignal {
            id: row.id,
            episode: row.episode,
            panel: word::value(row.panel)?,
            rule: row.rule.0,
            side: row.side.map(word::value).transpose()?,
            from: place(row.from_sample).unwrap_or(0),
            at: place(row.at_sample).unwrap_or(0),
            to,
            state: word::value(row.state)?,
            trial: row.trial,
        });
    }
    Ok(shown)
}

/// The episodes of signals that are shown, in the order of their points.
pub(super) async fn episodes(
    conn: &mut PgConnection,
    signals: &[ChartSignal],
) -> Result<Vec<ChartEpisode>, StoreError> {
    let mut ids: Vec<Uuid> = signals.iter().map(|signal| signal.episode).collect();
    ids.sort_unstable();
    ids.dedup();
    let rows = sqlx::query!("select id, aspect, side, state from episode where id = any($1)", &ids);
    let mut episodes = Vec::with_capacity(ids.len());
    for row in rows.fetch_all(conn).await? {
        let (aspect, side): (Aspect, Option<Side>) = (word::value(row.aspect)?, row.side.map(word::value).transpose()?);
        let of_it: Vec<&ChartSignal> = signals.iter().filter(|signal| signal.episode == row.id).collect();
        let (Some(from), Some(at), Some(to)) = (
            of_it.iter().map(|signal| signal.from).min(),
            of_it.iter().map(|signal| signal.at).min(),
            of_it.iter().map(|signal| signal.to).max(),
        ) else {
            continue;
        };
        let found = |s: &&ChartSignal| Found { rule: s.rule, panel: s.panel, side: s.side, points: s.to - s.from + 1 };
        let found: Vec<Found> = of_it.iter().map(found).collect();
        let state: SignalState = word::value(row.state)?;
        episodes.push(ChartEpisode { id: row.id, aspect, side, from, at, to, state, patterns: patterns(&found) });
    }
    episodes.sort_by_key(|episode| (episode.from, episode.to, episode.id));
    Ok(episodes)
}
