//! Signals on a chart, as they were raised, and their episodes.

use std::collections::{BTreeMap, HashMap};

use quality::episode::{Aspect, Found, patterns};
use quality::signal::{Broken, SignalState};
use spc::rules::Side;
use sqlx::PgConnection;
use sqlx::types::Json;
use uuid::Uuid;

use super::types::{ChartEpisode, ChartSignal};
use crate::series::SeriesPoint;
use crate::{StoreError, word};

/// A lane cannot tell more bars apart than these.
const BARS: usize = 200;

/// Signals that touch the points shown on a chart.
pub(super) async fn shown(
    conn: &mut PgConnection,
    characteristic: Uuid,
    series: &[SeriesPoint],
) -> Result<Vec<ChartSignal>, StoreError> {
    let (Some(first), Some(last)) = (series.first(), series.last()) else { return Ok(vec![]) };
    let rows = sqlx::query!(
        r#"select id, panel, rule as "rule: Json<Broken>", side, from_sample, at_sample, to_sample, state, trial,
                  episode_id as "episode!"
           from signal
           where characteristic_id = $1 and withdrawn_at is null and to_taken_at >= $2 and at_taken_at <= $3
           order by at_taken_at, raised_at"#,
        characteristic,
        first.taken_at,
        last.taken_at
    )
    .fetch_all(conn)
    .await?;
    let places: HashMap<Uuid, usize> = match rows.is_empty() {
        true => HashMap::new(),
        false => series.iter().enumerate().filter_map(|(place, point)| Some((point.sample?, place))).collect(),
    };
    let place = |sample: Uuid| places.get(&sample).copied();
    let mut shown = Vec::with_capacity(rows.len());
    for row in rows {
        // A pattern that ends behind the last point shown is drawn to the edge.
        let to = place(row.to_sample).unwrap_or(series.len() - 1);
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
    let mut of_each: HashMap<Uuid, Vec<&ChartSignal>> = HashMap::new();
    for signal in signals {
        of_each.entry(signal.episode).or_default().push(signal);
    }
    let mut episodes = Vec::with_capacity(ids.len());
    for row in rows.fetch_all(conn).await? {
        let (aspect, side): (Aspect, Option<Side>) = (word::value(row.aspect)?, row.side.map(word::value).transpose()?);
        let of_it = of_each.remove(&row.id).unwrap_or_default();
        let (Some(from), Some(at), Some(to)) = (
            of_it.iter().map(|signal| signal.from).min(),
            of_it.iter().map(|signal| signal.at).min(),
            of_it.iter().map(|signal| signal.to).max(),
        ) else {
            continue;
        };
        let found = |s: &&ChartSignal| Found { rule: s.rule, panel: s.panel, side: s.side, points: s.to - s.from + 1 };
        let patterns = patterns(&of_it.iter().map(found).collect::<Vec<_>>());
        let state: SignalState = word::value(row.state)?;
        episodes.push(ChartEpisode { id: row.id, aspect, side, from, at, to, state, patterns, others: 0 });
    }
    episodes.sort_by_key(|episode| (episode.from, episode.to, episode.id));
    Ok(episodes)
}

/// Where there are more episodes than bars can be told apart, those that begin close by each other are one: the least
/// settled of them, from the first point of them all to the last.
pub fn bundled(episodes: Vec<ChartEpisode>, places: usize) -> Vec<ChartEpisode> {
    if episodes.len() <= BARS {
        return episodes;
    }
    let mut bundles: BTreeMap<usize, ChartEpisode> = BTreeMap::new();
    for episode in episodes {
        let part = episode.from * BARS / places.max(1);
        let Some(bundle) = bundles.remove(&part) else {
            bundles.insert(part, episode);
            continue;
        };
        let (from, to) = (bundle.from.min(episode.from), bundle.to.max(episode.to));
        let others = bundle.others + episode.others + 1;
        let shown = if episode.state < bundle.state { episode } else { bundle };
        bundles.insert(part, ChartEpisode { from, to, others, ..shown });
    }
    bundles.into_values().collect()
}
