//! Rules replayed over the history of a characteristic, under the limits that hold for each of its points.

use std::collections::HashMap;

use chrono::{DateTime, Utc};
use quality::episode::Aspect;
use quality::place::{Place, points, where_so};
use quality::replay::{Answered, Ended, Judged, Replayed, replay};
use quality::scheme::Scheme;
use serde::Serialize;
use spc::chart::{ChartRequest, Limits, LimitsBasis, compute};
use spc::rules::{RuleSet, Side};
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::once::compiled_once;
use crate::phases::phases;
use crate::series::{SeriesPoint, Stretch, fill_trial};
use crate::{StoreError, characteristics, word};

/// So many of the latest points are replayed at most.
const POINTS_AT_MOST: i64 = 100_000;

/// What rules would have done since a time.
#[derive(Debug, Clone, Copy, Serialize, ToSchema)]
pub struct Replay {
    /// Since when; later than was asked where there are too many points.
    pub since: DateTime<Utc>,
    #[serde(flatten)]
    pub replayed: Replayed,
}

/// Replays rules at limits of `k` sigma over everything since a time. Nothing is stored.
///
/// # Errors
/// When there is no such characteristic, or the rules cannot be.
#[compiled_once]
pub async fn over_history(
    pool: &PgPool,
    characteristic: Uuid,
    (rule_set, k): (&RuleSet, f64),
    since: DateTime<Utc>,
) -> Result<Replay, StoreError> {
    let mut conn = pool.acquire().await?;
    let setup = characteristics::find(&mut *conn, characteristic).await?;
    let since = since.max(first_of_most(&mut conn, characteristic).await?);
    let scheme = Scheme { rule_set: rule_set.clone(), k, ..setup.characteristic.scheme() };
    let schemes = setup.schemes();
    let mut all = phases(&mut conn, characteristic).await?;
    let answered = answered_since(&mut conn, characteristic, since).await?;
    let mut replayed = Replayed::default();
    for held in 0..all.len() {
        fill_trial(&mut conn, &setup, &mut all, held).await?;
        let Some(figures) = all[held].figures else { continue };
        let stretch = Stretch::of_phase(&setup, &schemes, &all, held);
        let read = stretch.between(&mut conn, Some((since, 0)), None, POINTS_AT_MOST as usize).await?;
        // Figures of another chart would not fit.
        let places: Vec<&SeriesPoint> =
            read.iter().filter(|point| schemes.get(point.place.scheme).chart == scheme.chart).collect();
        if places.is_empty() {
            continue;
        }
        let only: Vec<Place> = places.iter().map(|point| point.place.clone()).collect();
        let request = ChartRequest {
            excluded: where_so(&only, |place| place.aside),
            restarts: where_so(&only, |place| place.restart),
            limits: vec![Limits { basis: LimitsBasis::Given(figures), k }],
            rules: Some(scheme.rule_set.clone()),
            options: scheme.options.clone(),
            ..ChartRequest::new(scheme.chart, points(setup.characteristic.kind, &only))
        };
        let found = compute(&request)?.signals;
        let found: Vec<_> = found.into_iter().filter(|signal| setup.shows(signal.panel)).collect();
        let place_of: HashMap<Uuid, usize> =
            places.iter().enumerate().filter_map(|(i, point)| Some((point.sample?, i))).collect();
        let here = |(at, to): &(Uuid, Uuid)| Some((*place_of.get(at)?, *place_of.get(to)?));
        let answered: Vec<Answered> = answered
            .iter()
            .map(|told| Answered {
                aspect: told.aspect,
                side: told.side,
                flagged: told.flagged.iter().filter_map(here).collect(),
                ended: told.ended,
            })
            .filter(|episode| !episode.flagged.is_empty())
            .collect();
        let counts: Vec<bool> = only.iter().map(Place::counts).collect();
        let restarts = where_so(&only, |place| place.restart);
        replayed = replayed.and(replay(&found, &answered, Judged { counts: &counts, restarts: &restarts }));
    }
    Ok(Replay { since, replayed })
}

/// When the first of the latest points was taken that are replayed at most.
async fn first_of_most(conn: &mut PgConnection, characteristic: Uuid) -> Result<DateTime<Utc>, StoreError> {
    Ok(sqlx::query_scalar!(
        "select taken_at from sample where characteristic_id = $1 order by taken_at desc, number desc offset $2 limit 1",
        characteristic,
        POINTS_AT_MOST - 1
    )
    .fetch_optional(conn)
    .await?
    .unwrap_or(DateTime::UNIX_EPOCH))
}

/// An episode that was answered, with the first and last flagged sample of each of its signals.
struct Told {
    aspect: Aspect,
    side: Option<Side>,
    ended: Ended,
    flagged: Vec<(Uuid, Uuid)>,
}

/// Episodes that stand and were answered.
async fn answered_since(
    conn: &mut PgConnection,
    characteristic: Uuid,
    since: DateTime<Utc>,
) -> Result<Vec<Told>, StoreError> {
    let rows = sqlx::query!(
        r#"select e.aspect, e.side, a.nothing_found, array_agg(g.at_sample order by g.id) as "at!",
                  array_agg(g.to_sample order by g.id) as "to!"
           from episode e
           join signal g on g.episode_id = e.id and g.withdrawn_at is null and g.at_taken_at >= $2
           join lateral (
               select a.nothing_found from signal s join answer_of o on o.signal_id = s.id join answer a on a.id = o.answer_id
               where s.episode_id = e.id order by a.at desc limit 1) a on true
           where e.characteristic_id = $1
           group by e.id, e.aspect, e.side, a.nothing_found"#,
        characteristic,
        since
    );
    let told = rows.fetch_all(conn).await?.into_iter().map(|row| {
        let ended = if row.nothing_found { Ended::NothingFound } else { Ended::Cause };
        let (aspect, side) = (word::value(row.aspect)?, row.side.map(word::value).transpose()?);
        Ok(Told { aspect, side, ended, flagged: row.at.into_iter().zip(row.to).collect() })
    });
    told.collect()
}
