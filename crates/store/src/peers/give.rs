//! Results of reviewed runs are given, and taken back.

use chrono::{DateTime, Utc};
use quality::field::text;
use quality::object::ObjectKind;
use quality::peer::given::TakenResult;
use quality::trail::{Action, Deed};
use serde_json::{Value, json};
use sqlx::PgPool;
use uuid::Uuid;

use crate::StoreError;
use crate::act::Act;
use crate::news::News;
use crate::once::compiled_once;
use crate::trail::SITE_CHAIN;

/// Results that one entry of the trail tells of at most.
const TOLD_AT_ONCE: usize = 500;

/// Gives what counts of a run that has just been reviewed to every group that takes part in it, and takes back what
/// counts no more.
pub(crate) async fn give_of_run(act: &mut Act, run: Uuid, by: (Uuid, DateTime<Utc>)) -> Result<(), StoreError> {
    give(act, Some(run), None, by).await
}

/// Gives what was reviewed since a group takes part.
pub(super) async fn give_reviewed(act: &mut Act, group: Uuid, by: (Uuid, DateTime<Utc>)) -> Result<(), StoreError> {
    give(act, None, Some(group), by).await
}

async fn give(
    act: &mut Act,
    run: Option<Uuid>,
    group: Option<Uuid>,
    (by, at): (Uuid, DateTime<Utc>),
) -> Result<(), StoreError> {
    // What a person took back stays so; what its run alone did not count is given once it does.
    let given = sqlx::query!(
        r#"insert into peer_result as p (id, group_id, sample_id, characteristic_id, value, unit, taken_at, reagent_lot,
                                         control_lot, next_at)
           select gen_random_uuid(), group_id, sample_id, characteristic_id, value, unit, taken_at, reagent_lot,
                  control_lot, case when sends then $3::timestamptz end
           from peer_candidate
           where counted and ($1::uuid is null or run_id = $1) and ($2::uuid is null or group_id = $2)
           on conflict (group_id, sample_id) do update
               set value = excluded.value, unit = excluded.unit, taken_at = excluded.taken_at,
                   reagent_lot = excluded.reagent_lot, control_lot = excluded.control_lot,
                   revision = p.revision + 1, withdrawn_at = null, withdrawn_by = null,
                   next_at = excluded.next_at, tries = 0, failed = null, ended = false
               where p.withdrawn_because is null and (p.withdrawn_at is not null
                   or (p.value, p.unit, p.taken_at, p.reagent_lot, p.control_lot) is distinct from
                      (excluded.value, excluded.unit, excluded.taken_at, excluded.reagent_lot, excluded.control_lot))
           returning id, group_id, sample_id, value, unit, taken_at, reagent_lot, control_lot"#,
        run,
        group,
        at
    )
    .fetch_all(act.conn())
    .await?;
    let gone = sqlx::query!(
        "update peer_result p
         set withdrawn_at = $3, withdrawn_by = $4, revision = p.revision + 1, failed = null, ended = false,
             taken_revision = case when p.tries = 0 and p.taken_revision = 0 then p.revision + 1 else p.taken_revision end,
             next_at = case when c.sends and (p.tries > 0 or p.taken_revision > 0) then $3::timestamptz end, tries = 0
         from peer_candidate c
         where c.group_id = p.group_id and c.sample_id = p.sample_id and not c.counted and p.withdrawn_at is null
           and ($1::uuid is null or c.run_id = $1) and ($2::uuid is null or c.group_id = $2)
         returning p.id, p.group_id",
        run,
        group,
        at,
        by
    )
    .fetch_all(act.conn())
    .await?;
    let told = given.into_iter().map(|row| {
        let says = json!({"id": row.id, "sample": row.sample_id, "value": row.value, "unit": row.unit,
                          "taken_at": row.taken_at, "reagent_lot": row.reagent_lot, "control_lot": row.control_lot});
        (row.group_id, says)
    });
    tell(act, Action::PeerResultsGiven, told.collect(), |results| json!({ "results": results }), (by, at));
    let told = gone.into_iter().map(|row| (row.group_id, json!(row.id)));
    let says = |results: &[Value]| json!({"results": results, "because": null});
    tell(act, Action::PeerResultsWithdrawn, told.collect(), says, (by, at));
    Ok(())
}

/// Tells the trail of results, group by group.
fn tell(
    act: &mut Act,
    action: Action,
    mut results: Vec<(Uuid, Value)>,
    says: impl Fn(&[Value]) -> Value,
    (by, at): (Uuid, DateTime<Utc>),
) {
    results.sort_by_key(|(group, _)| *group);
    for of_group in results.chunk_by(|(one, _), (other, _)| one == other) {
        let group = of_group[0].0;
        for part in of_group.chunks(TOLD_AT_ONCE) {
            let part: Vec<Value> = part.iter().map(|(_, result)| result.clone()).collect();
            act.did(SITE_CHAIN, Deed::new(at, Some(by), action, group, &says(&part)), News::Peers { group });
        }
    }
}

/// Takes a result back: it counts no more here, and the group is told where it may have heard of it.
///
/// # Errors
/// When it is missing or was taken back before; without a reason.
#[compiled_once]
pub async fn withdraw(
    pool: &PgPool,
    (group, result): (Uuid, Uuid),
    because: &str,
    (by, at): (Uuid, DateTime<Utc>),
) -> Result<(), StoreError> {
    let because = text("because", because)?;
    let mut act = Act::begin(pool).await?;
    let done = sqlx::query!(
        "update peer_result p
         set withdrawn_at = $3, withdrawn_by = $4, withdrawn_because = $5, revision = p.revision + 1, failed = null,
             ended = false,
             taken_revision = case when p.tries = 0 and p.taken_revision = 0 then p.revision + 1 else p.taken_revision end,
             next_at = case when g.url is not null and (p.tries > 0 or p.taken_revision > 0) then $3::timestamptz end,
             tries = 0
         from peer_group g
         where g.id = p.group_id and p.group_id = $1 and p.id = $2 and p.withdrawn_at is null",
        group,
        result,
        at,
        by,
        because
    )
    .execute(act.conn())
    .await?;
    if done.rows_affected() == 0 {
        return Err(StoreError::Missing(ObjectKind::PeerResult));
    }
    let says = json!({"results": [result], "because": because});
    let deed = Deed::new(at, Some(by), Action::PeerResultsWithdrawn, group, &says);
    act.did(SITE_CHAIN, deed, News::Peers { group });
    act.commit().await
}

/// Results that a file was handed over of: those are with the group now, as they stood in it. What has changed since
/// still waits.
///
/// # Errors
/// When the database fails.
#[compiled_once]
pub async fn hand_over(
    pool: &PgPool,
    group: Uuid,
    handed: &[TakenResult],
    at: DateTime<Utc>,
) -> Result<u64, StoreError> {
    let mut act = Act::begin(pool).await?;
    let kept = super::send::keep(&mut act, group, handed, at).await?;
    act.tell(News::Peers { group });
    act.keep().await?;
    Ok(kept)
}

/// Tries to send again what was not taken.
///
/// # Errors
/// When the database fails.
#[compiled_once]
pub async fn send_again(pool: &PgPool, group: Uuid, at: DateTime<Utc>) -> Result<(), StoreError> {
    let mut act = Act::begin(pool).await?;
    sqlx::query!(
        "update peer_result p set tries = 1, ended = false, failed = null,
                next_at = case when g.url is not null then $2::timestamptz end
         from peer_group g where g.id = p.group_id and p.group_id = $1 and p.taken_revision < p.revision",
        group,
        at
    )
    .execute(act.conn())
    .await?;
    act.tell(News::Peers { group });
    act.keep().await
}
