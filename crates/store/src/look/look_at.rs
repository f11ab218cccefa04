//! Are limits in force still true? Looked at in the background, so that no save waits for it.

use chrono::{DateTime, Utc};
use quality::limits::{Basis, LOOKED_AT, LimitsLook, LimitsState, TRIAL_POINTS_AT_MOST, look, proposed_start};
use quality::place::Place;
use sqlx::types::Json;
use sqlx::{PgConnection, PgPool};
use uuid::Uuid;

use crate::StoreError;
use crate::act::Act;
use crate::characteristics::{self, CharacteristicView};
use crate::news::News;
use crate::once::compiled_once;
use crate::phases::{Phase, phases};
use crate::series::{SeriesPoint, Stretch};

/// So many characteristics are looked at in one go.
const AT_A_TIME: i64 = 100;

/// Looks at the limits of characteristics to which something was done since they were looked at; gives how many.
///
/// # Errors
/// When the database fails.
#[compiled_once]
pub async fn look_at_changed(pool: &PgPool, now: DateTime<Utc>) -> Result<usize, StoreError> {
    let changed = sqlx::query!(
        r#"select c.id, h.position from characteristic c
           join trail_head h on h.chain = c.id
           left join limits_look l on l.characteristic_id = c.id
           where l.position is distinct from h.position
             and exists (select from phase p join limits f on f.phase_id = p.id and f.state <> 'retired'
                         where p.characteristic_id = c.id and p.merged_at is null and f.put_in_force_at is not null)
           limit $1"#,
        AT_A_TIME
    );
    let changed = changed.fetch_all(pool).await?;
    for row in &changed {
        look_at(pool, row.id, row.position, now).await?;
    }
    Ok(changed.len())
}

/// Limits as they were looked at.
struct Found {
    limits: Uuid,
    look: Option<LimitsLook>,
    since: Option<Uuid>,
    proposed: bool,
}

async fn look_at(pool: &PgPool, characteristic: Uuid, position: i64, now: DateTime<Utc>) -> Result<(), StoreError> {
    let mut act = Act::begin(pool).await?;
    let setup = characteristics::find(act.conn(), characteristic).await?;
    let all = phases(act.conn(), characteristic).await?;
    let Some(phase) = all.last() else { return Ok(()) };
    let before = sqlx::query!(
        r#"select l.limits_id, l.listed_since,
                  (select max(until) from limits_kept k where k.limits_id = $2) as kept_until
           from (select) one left join limits_look l on l.characteristic_id = $1 and l.limits_id = $2"#,
        characteristic,
        phase.limits
    )
    .fetch_one(act.conn())
    .await?;
    let kept = before.kept_until.is_some_and(|until| until >= now.date_naive());
    let found = since(act.conn(), &setup, &all).await?;
    let listed = found.look.is_some_and(|look| !kept && look.lists(before.listed_since.is_some()));
    let listed_since = listed.then(|| before.listed_since.unwrap_or(now));
    sqlx::query!(
        "insert into limits_look (characteristic_id, limits_id, position, look, listed_since, since_sample_id, proposed)
         values ($1, $2, $3, $4, $5, $6, $7)
         on conflict (characteristic_id) do update set limits_id = $2, position = $3, look = $4, listed_since = $5,
             since_sample_id = $6, proposed = $7",
        characteristic,
        found.limits,
        position,
        found.look.map(Json) as _,
        listed_since,
        found.since,
        found.proposed
    )
    .execute(act.conn())
    .await?;
    if listed_since.is_some() != before.listed_since.is_some() {
        act.tell(News::Limits { characteristic });
    }
    act.keep().await
}

/// What the points since say of the latest limits.
async fn since(conn: &mut PgConnection, setup: &CharacteristicView, all: &[Phase]) -> Result<Found, StoreError> {
    let (held, phase) = (all.len() - 1, &all[all.len() - 1]);
    let nothing = Found { limits: phase.limits, look: None, since: None, proposed: false };
    let Some(figures) = phase.figures.filter(|_| phase.state == LimitsState::InForce) else { return Ok(nothing) };
    let schemes = setup.schemes();
    let stretch = Stretch::of_phase(setup, &schemes, all, held);
    let points = stretch.before(&mut *conn, None, LOOKED_AT).await?;
    let first = since_when(conn, phase).await?;
    let places = |points: &[SeriesPoint]| points.iter().map(|point| point.place.clone()).collect::<Vec<Place>>();
    let later: Vec<SeriesPoint> =
        points.into_iter().filter(|point| first.is_none_or(|at| point.taken_at > at)).collect();
    let Some(found) = look(&setup.characteristic, &places(&later), figures, phase.baseline) else { return Ok(nothing) };
    let of_run = later.iter().filter(|point| point.place.counts()).rev().nth(found.points.saturating_sub(1));
    let begins = of_run.and_then(|point| point.sample);
    if found.drift.is_none() {
        return Ok(Found { look: Some(found), since: begins, ..nothing });
    }
    let longer = stretch.before(conn, None, TRIAL_POINTS_AT_MOST).await?;
    // A change among the points that the limits rest on is in them already.
    let start = proposed_start(&places(&longer)).map(|place| &longer[place]);
    let proposed = start.filter(|point| first.is_none_or(|at| point.taken_at > at)).and_then(|point| point.sample);
    Ok(Found { look: Some(found), since: proposed.or(begins), proposed: proposed.is_some(), ..nothing })
}

/// The time of the last point that the limits rest on; of given ones, whatever was sampled since they hold speaks.
async fn since_when(conn: &mut PgConnection, phase: &Phase) -> Result<Option<DateTime<Utc>>, StoreError> {
    match &phase.basis {
        Basis::Given { .. } | Basis::Copied { .. } => Ok(None),
        Basis::Phase | Basis::Chosen { .. } => Ok(phase.put_in_force_at),
        Basis::Stretch { last, .. } => {
            let row = sqlx::query_scalar!("select taken_at from sample where id = $1", last).fetch_optional(conn);
            Ok(row.await?.or(phase.put_in_force_at))
        }
    }
}
