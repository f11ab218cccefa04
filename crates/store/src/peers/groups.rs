//! Peer groups, as they are set up.

use chrono::{DateTime, Utc};
use quality::object::ObjectKind;
use quality::peer::group::{PeerGroup, PeerLevel, token};
use quality::setup::SetUpRefusal;
use quality::trail::{Action, Deed};
use quality::version::same_version;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use sha2::{Digest, Sha256};
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use super::give::give_reviewed;
use crate::StoreError;
use crate::act::Act;
use crate::news::News;
use crate::once::compiled_once;
use crate::trail::SITE_CHAIN;

/// A peer group, and how what is given to it fares.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct PeerGroupView {
    pub id: Uuid,
    #[serde(flatten)]
    pub group: PeerGroup,
    /// Counts its changes.
    pub version: i32,
    /// Results that are with the group as they are now.
    pub given: i64,
    /// Results that wait to be given, or to be taken back.
    pub waiting: i64,
    /// Results that were not taken there, and are tried no more.
    pub not_taken: i64,
    /// Why the last try to send failed, of those that wait or were not taken; nothing where none did.
    pub failed: Option<String>,
    /// When it last told of itself.
    pub answered_at: Option<DateTime<Utc>>,
    /// Why it did not when it was asked last; nothing where it did.
    pub not_answered: Option<String>,
}

/// All of them, by name.
#[compiled_once]
pub async fn list(pool: &PgPool) -> Result<Vec<PeerGroupView>, StoreError> {
    let rows = sqlx::query!(
        r#"select g.id, g.name, g.laboratory, g.url, g.since, g.active, g.version, g.answered_at, g.failed as not_answered,
                  array(select characteristic_id from peer_level where group_id = g.id order by characteristic_id) as "levels!",
                  array(select code from peer_level where group_id = g.id order by characteristic_id) as "codes!",
                  p.given as "given!", p.waiting as "waiting!", p.not_taken as "not_taken!",
                  (select f.failed from peer_result f where f.group_id = g.id and f.taken_revision < f.revision
                   and f.failed is not null order by f.next_at desc nulls last limit 1) as failed
           from peer_group g cross join lateral (
               select count(*) filter (where taken_revision = revision and withdrawn_at is null) as given,
                      count(*) filter (where taken_revision < revision and not ended) as waiting,
                      count(*) filter (where taken_revision < revision and ended) as not_taken
               from peer_result where group_id = g.id) p
           order by g.name"#
    );
    let rows = rows.fetch_all(pool).await?.into_iter();
    Ok(rows
        .map(|row| {
            let levels = row.levels.into_iter().zip(row.codes);
            let levels = levels.map(|(characteristic, code)| PeerLevel { characteristic, code }).collect();
            let group = PeerGroup {
                name: row.name,
                laboratory: row.laboratory,
                url: row.url,
                levels,
                since: row.since,
                active: row.active,
            };
            PeerGroupView {
                id: row.id,
                group,
                version: row.version,
                given: row.given,
                waiting: row.waiting,
                not_taken: row.not_taken,
                failed: row.failed,
                answered_at: row.answered_at,
                not_answered: row.not_answered,
            }
        })
        .collect())
}

/// What the trail is told; of the token a digest alone.
fn detail(group: &PeerGroup, token: Option<&str>) -> Result<Value, StoreError> {
    let mut detail = serde_json::to_value(group)?;
    detail["token"] = json!(token.map(|token| hex::encode(Sha256::digest(token))));
    Ok(detail)
}

/// The token that a group is kept with: none where files are handed over.
fn token_of(group: &PeerGroup, given: Option<&str>, before: Option<String>) -> Result<Option<String>, StoreError> {
    match (&group.url, given, before) {
        (None, ..) => Ok(None),
        (Some(_), None, Some(before)) => Ok(Some(before)),
        (Some(_), given, _) => Ok(Some(token(given.unwrap_or_default())?)),
    }
}

/// Sets one up; what was reviewed since it takes part is given at once.
///
/// # Errors
/// When it cannot be so, its name is taken, a level is missing, or it has an address and no token.
#[compiled_once]
pub async fn set_up(
    pool: &PgPool,
    given: PeerGroup,
    token: Option<&str>,
    (by, at): (Uuid, DateTime<Utc>),
) -> Result<Uuid, StoreError> {
    let group = given.accept()?;
    let token = token_of(&group, token, None)?;
    let id = Uuid::new_v4();
    let mut act = Act::begin(pool).await?;
    sqlx::query!(
        "insert into peer_group (id, name, laboratory, url, token, since, active, asks_at)
         values ($1, $2, $3, $4, $5, $6, $7, case when $4::text is not null then $8::timestamptz end)",
        id,
        group.name,
        group.laboratory,
        group.url,
        token,
        group.since,
        group.active,
        at
    )
    .execute(act.conn())
    .await
    .map_err(refusal)?;
    write_levels(act.conn(), id, &group.levels).await?;
    let deed = Deed::new(at, Some(by), Action::PeerGroupSetUp, id, &detail(&group, token.as_deref())?);
    act.did(SITE_CHAIN, deed, News::Peers { group: id });
    give_reviewed(&mut act, id, (by, at)).await?;
    act.commit().await?;
    Ok(id)
}

/// Changes one; without a token it keeps the one it has.
///
/// # Errors
/// As [`set_up`]; when it is missing, or was changed since `seen_version`.
#[compiled_once]
pub async fn change(
    pool: &PgPool,
    id: Uuid,
    seen_version: i32,
    (given, token): (PeerGroup, Option<&str>),
    (by, at): (Uuid, DateTime<Utc>),
) -> Result<(), StoreError> {
    let group = given.accept()?;
    let mut act = Act::begin(pool).await?;
    let row = sqlx::query!("select version, token from peer_group where id = $1 for update", id)
        .fetch_optional(act.conn())
        .await?
        .ok_or(StoreError::Missing(ObjectKind::PeerGroup))?;
    same_version(ObjectKind::PeerGroup, seen_version, row.version)?;
    let token = token_of(&group, token, row.token)?;
    sqlx::query!(
        "update peer_group set name = $2, laboratory = $3, url = $4, token = $5, since = $6, active = $7,
                version = version + 1, asked = 0, failed = null,
                asks_at = case when $4::text is not null and $7 then $8::timestamptz end
         where id = $1",
        id,
        group.name,
        group.laboratory,
        group.url,
        token,
        group.since,
        group.active,
        at
    )
    .execute(act.conn())
    .await
    .map_err(refusal)?;
    sqlx::query!("delete from peer_level where group_id = $1", id).execute(act.conn()).await?;
    write_levels(act.conn(), id, &group.levels).await?;
    // What waits goes where the group is now: to its address, or into a file.
    sqlx::query!(
        "update peer_result set next_at = case when $2::text is not null then $3::timestamptz end
         where group_id = $1 and taken_revision < revision and not ended",
        id,
        group.url,
        at
    )
    .execute(act.conn())
    .await?;
    let deed = Deed::new(at, Some(by), Action::PeerGroupChanged, id, &detail(&group, token.as_deref())?);
    act.did(SITE_CHAIN, deed, News::Peers { group: id });
    give_reviewed(&mut act, id, (by, at)).await?;
    act.commit().await
}

async fn write_levels(conn: &mut PgConnection, id: Uuid, levels: &[PeerLevel]) -> Result<(), StoreError> {
    let (of, codes): (Vec<Uuid>, Vec<String>) =
        levels.iter().map(|level| (level.characteristic, level.code.clone())).unzip();
    sqlx::query!(
        "insert into peer_level (group_id, characteristic_id, code) select $1, * from unnest($2::uuid[], $3::text[])",
        id,
        &of,
        &codes
    )
    .execute(conn)
    .await
    .map_err(refusal)?;
    Ok(())
}

fn refusal(error: sqlx::Error) -> StoreError {
    StoreError::of_constraint(error, |name| match name {
        "peer_group_named" => Some(SetUpRefusal::Taken("name").into()),
        "peer_level_characteristic_id_fkey" => Some(StoreError::Missing(ObjectKind::Level)),
        _ => None,
    })
}
