//! What is to be sent, claimed by one instance at a time, and what came of it. Whoever receives knows each result by its
//! id and revision, so a claim that ended without an answer is sent again without harm.

use std::collections::BTreeMap;

use chrono::{DateTime, Duration, Utc};
use quality::notice::tried_again_after;
use quality::object::ObjectKind;
use quality::peer::given::{GivenResult, RefusedThere, ResultsGiven, TakenResult};
use sqlx::PgPool;
use uuid::Uuid;

use crate::StoreError;
use crate::act::Act;
use crate::news::News;
use crate::once::compiled_once;

/// What is under way belongs to whoever claimed it for so long; sending takes less.
const CLAIMED_FOR: Duration = Duration::seconds(120);

/// A group that has answered is asked again after this time.
const ASKED_AGAIN_AFTER: Duration = Duration::hours(1);

/// Longest reason that is kept, in characters.
const REASON_AT_MOST: usize = 500;

/// Results of one group that are sent together.
#[derive(Debug, Clone, PartialEq)]
pub struct Parcel {
    pub group: Uuid,
    pub url: String,
    pub token: String,
    pub results: ResultsGiven,
    /// Of each result, counting this one.
    pub tries: BTreeMap<Uuid, i32>,
}

/// Claims what is to be sent at `now`, at most `most` results; a withdrawal also of a group or a level
/// that is given nothing more.
#[compiled_once]
pub async fn due(pool: &PgPool, now: DateTime<Utc>, most: i64) -> Result<Vec<Parcel>, StoreError> {
    let rows = sqlx::query!(
        r#"with claimed as (
               update peer_result set tries = tries + 1, next_at = $2
               where id in (
                   select p.id from peer_result p join peer_group g on g.id = p.group_id
                   where p.next_at <= $1 and g.url is not null and (p.withdrawn_at is not null or g.active and exists (
                       select from peer_level l where l.group_id = g.id and l.characteristic_id = p.characteristic_id))
                   order by p.next_at, p.id limit $3 for update of p skip locked)
               returning *)
           select p.id as "id!", p.revision as "revision!", p.tries as "tries!", p.value as "value!", p.unit as "unit!",
                  p.taken_at as "taken_at!", p.reagent_lot, p.control_lot, p.withdrawn_at is not null as "withdrawn!",
                  g.id as group_id, g.laboratory, g.url as "url!", g.token as "token!", coalesce(l.code, '') as "code!"
           from claimed p join peer_group g on g.id = p.group_id
           left join peer_level l on l.group_id = g.id and l.characteristic_id = p.characteristic_id
           order by g.id, p.taken_at, p.id"#,
        now,
        now + CLAIMED_FOR,
        most
    );
    let mut parcels: Vec<Parcel> = Vec::new();
    for row in rows.fetch_all(pool).await? {
        if parcels.last().is_none_or(|parcel| parcel.group != row.group_id) {
            let results = ResultsGiven { laboratory: row.laboratory, results: vec![] };
            let (group, url, token) = (row.group_id, row.url, row.token);
            parcels.push(Parcel { group, url, token, results, tries: BTreeMap::new() });
        }
        let Some(parcel) = parcels.last_mut() else { continue };
        parcel.tries.insert(row.id, row.tries);
        parcel.results.results.push(GivenResult {
            id: row.id,
            revision: row.revision.unsigned_abs(),
            code: row.code,
            withdrawn: row.withdrawn,
            value: (!row.withdrawn).then_some(row.value),
            unit: row.unit,
            taken_at: row.taken_at,
            reagent_lot: row.reagent_lot,
            control_lot: row.control_lot,
        });
    }
    Ok(parcels)
}

fn revision(of: u32) -> i32 {
    i32::try_from(of).unwrap_or(i32::MAX)
}

/// Keeps that results are with the group, as they were sent; what was said of them since is still to be told. A result
/// that was taken back as one that nobody had heard of is told of after all.
pub(super) async fn keep(
    act: &mut Act,
    group: Uuid,
    results: &[TakenResult],
    at: DateTime<Utc>,
) -> Result<u64, StoreError> {
    let (ids, revisions): (Vec<Uuid>, Vec<i32>) = results.iter().map(|it| (it.id, revision(it.revision))).unzip();
    let kept = sqlx::query!(
        "update peer_result p
         set taken_revision = case when p.given_at is null then t.revision else greatest(p.taken_revision, t.revision) end,
             given_at = $4, tries = greatest(p.tries, 1),
             next_at = case when p.revision > t.revision and g.url is not null then coalesce(p.next_at, $4) end,
             failed = case when p.revision > t.revision then p.failed end
         from unnest($2::uuid[], $3::int[]) as t (id, revision), peer_group g
         where g.id = p.group_id and p.group_id = $1 and p.id = t.id and t.revision between 1 and p.revision",
        group,
        &ids,
        &revisions,
        at
    )
    .execute(act.conn())
    .await?;
    Ok(kept.rows_affected())
}

/// Results were taken by the other side, or refused for good.
#[compiled_once]
pub async fn taken(
    pool: &PgPool,
    group: Uuid,
    (taken, refused): (&[TakenResult], &[RefusedThere]),
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    let mut act = Act::begin(pool).await?;
    keep(&mut act, group, taken, at).await?;
    for it in refused {
        let why: String = it.reason.chars().filter(|c| !c.is_control()).take(REASON_AT_MOST).collect();
        sqlx::query!(
            "update peer_result set ended = true, next_at = null, failed = $4
             where group_id = $1 and id = $2 and revision = $3 and taken_revision < revision",
            group,
            it.id,
            revision(it.revision),
            why
        )
        .execute(act.conn())
        .await?;
    }
    act.tell(News::Peers { group });
    act.keep().await
}

/// Results were not taken: they are tried again, or given up.
#[compiled_once]
pub async fn not_taken(
    pool: &PgPool,
    parcel: &Parcel,
    which: &[TakenResult],
    why: &str,
    now: DateTime<Utc>,
) -> Result<(), StoreError> {
    let mut act = Act::begin(pool).await?;
    let why: String = why.chars().take(REASON_AT_MOST).collect();
    for it in which {
        let tries = parcel.tries.get(&it.id).copied().unwrap_or(1);
        let next = tried_again_after(tries.unsigned_abs()).map(|after| now + after);
        sqlx::query!(
            "update peer_result set next_at = $4, ended = $4::timestamptz is null, failed = $5
             where group_id = $1 and id = $2 and revision = $3 and taken_revision < revision",
            parcel.group,
            it.id,
            revision(it.revision),
            next,
            why
        )
        .execute(act.conn())
        .await?;
    }
    act.tell(News::Peers { group: parcel.group });
    act.keep().await
}

/// A group to ask for its statistics.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Asked {
    pub group: Uuid,
    pub url: String,
    pub token: String,
    /// What this laboratory is called there.
    pub laboratory: String,
    /// Counting this one.
    pub tries: i32,
}

/// Claims groups that are to be asked at `now`.
#[compiled_once]
pub async fn asks(pool: &PgPool, now: DateTime<Utc>) -> Result<Vec<Asked>, StoreError> {
    let rows = sqlx::query!(
        r#"update peer_group set asked = asked + 1, asks_at = $2
           where id in (select id from peer_group where asks_at <= $1 and active for update skip locked)
           returning id, url as "url!", token as "token!", laboratory, asked"#,
        now,
        now + CLAIMED_FOR
    );
    let rows = rows.fetch_all(pool).await?.into_iter();
    Ok(rows
        .map(|row| Asked {
            group: row.id,
            url: row.url,
            token: row.token,
            laboratory: row.laboratory,
            tries: row.asked,
        })
        .collect())
}

/// Asks a group for its statistics at once.
///
/// # Errors
/// When there is no such group, or files are handed over.
#[compiled_once]
pub async fn ask_now(pool: &PgPool, group: Uuid, now: DateTime<Utc>) -> Result<(), StoreError> {
    let asked = sqlx::query!(
        "update peer_group set asks_at = $2, asked = 0 where id = $1 and url is not null and active",
        group,
        now
    );
    match asked.execute(pool).await?.rows_affected() {
        0 => Err(StoreError::Missing(ObjectKind::PeerGroup)),
        _ => Ok(()),
    }
}

/// A group did not answer: it is asked again, the later the longer it is silent.
#[compiled_once]
pub async fn not_answered(pool: &PgPool, asked: &Asked, why: &str, now: DateTime<Utc>) -> Result<(), StoreError> {
    let mut act = Act::begin(pool).await?;
    let again = tried_again_after(asked.tries.unsigned_abs()).unwrap_or(ASKED_AGAIN_AFTER);
    let why: String = why.chars().take(REASON_AT_MOST).collect();
    sqlx::query!("update peer_group set asks_at = $2, failed = $3 where id = $1", asked.group, now + again, why)
        .execute(act.conn())
        .await?;
    act.tell(News::Peers { group: asked.group });
    act.keep().await
}

/// A group answered: it is asked again after a while.
pub(super) async fn answered(act: &mut Act, group: Uuid, now: DateTime<Utc>) -> Result<(), StoreError> {
    sqlx::query!(
        "update peer_group set answered_at = $2, asked = 0, failed = null,
                asks_at = case when url is not null and active then $3::timestamptz end
         where id = $1",
        group,
        now,
        now + ASKED_AGAIN_AFTER
    )
    .execute(act.conn())
    .await?;
    Ok(())
}
