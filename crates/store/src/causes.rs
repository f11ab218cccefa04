//! The catalogue of causes: what answers can name, what people propose for it, and what was named before.

use chrono::{DateTime, Utc};
use quality::cause::{CauseGroup, CausePlace, CauseState};
use quality::episode::Answer;
use quality::field::name;
use quality::notice::NoticeKind;
use quality::object::ObjectKind;
use quality::setup::SetUpRefusal;
use quality::trail::{Action, Deed};
use quality::version::same_version;
use serde::{Deserialize, Serialize};
use serde_json::json;
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::act::Act;
use crate::news::News;
use crate::notices::{About, NewNotice, raise};
use crate::once::compiled_once;
use crate::trail::SITE_CHAIN;
use crate::{StoreError, word};

/// A cause that answers can name.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Cause {
    pub id: Uuid,
    /// In words.
    pub name: String,
    /// Where it comes from; nothing where nobody has placed it yet.
    pub group: Option<CauseGroup>,
}

/// An entry of the catalogue, in use or not.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct CauseEntry {
    #[serde(flatten)]
    pub cause: Cause,
    pub state: CauseState,
    /// The area where it occurs; nothing for all areas.
    pub area: Option<Uuid>,
    /// Another one that says the same and is used in its place.
    pub same_as: Option<Uuid>,
    /// Who proposed it.
    pub proposed_by: Option<String>,
    /// Answers that name it.
    pub answers: i64,
    /// When the last of them was given.
    pub last_at: Option<DateTime<Utc>>,
    /// Counts its changes; a change names the version it was made on.
    pub version: i32,
}

/// The causes in use that fit a characteristic: those of its area and those of all areas, what was named most often
/// there first. Without a characteristic all, in the order of their names.
#[compiled_once]
pub async fn list(pool: &PgPool, characteristic: Option<Uuid>) -> Result<Vec<Cause>, StoreError> {
    let rows = sqlx::query!(
        r#"with here as (select s.area_id from characteristic c join station s on s.id = c.station_id where c.id = $1)
           select k.id, k.name, k.cause_group from cause k
           left join lateral (
               select count(*) as n from answer a
               join lateral (select signal_id from answer_of where answer_id = a.id limit 1) o on true
               join signal g on g.id = o.signal_id
               join characteristic c on c.id = g.characteristic_id
               join station s on s.id = c.station_id
               where a.cause_id = k.id and s.area_id = (select area_id from here) and a.at > now() - interval '1 year'
           ) used on true
           where k.state = 'in_use' and ($1::uuid is null or k.area_id is null or k.area_id = (select area_id from here))
           order by used.n desc, k.place, k.name"#,
        characteristic
    );
    rows.fetch_all(pool)
        .await?
        .into_iter()
        .map(|row| Ok(Cause { id: row.id, name: row.name, group: row.cause_group.map(word::value).transpose()? }))
        .collect()
}

/// The whole catalogue: what is proposed first, then what is in use, then what is retired.
#[compiled_once]
pub async fn catalogue(pool: &PgPool) -> Result<Vec<CauseEntry>, StoreError> {
    let rows = sqlx::query!(
        r#"select k.id, k.name, k.cause_group, k.state, k.area_id, k.same_as, k.version, p.name as "proposed_by?",
                  count(a.id) as "answers!", max(a.at) as last_at
           from cause k left join person p on p.id = k.proposed_by left join answer a on a.cause_id = k.id
           group by k.id, p.name
           order by array_position(array['proposed', 'in_use', 'retired'], k.state), k.name"#
    );
    rows.fetch_all(pool)
        .await?
        .into_iter()
        .map(|row| {
            Ok(CauseEntry {
                cause: Cause { id: row.id, name: row.name, group: row.cause_group.map(word::value).transpose()? },
                state: word::value(row.state)?,
                area: row.area_id,
                same_as: row.same_as,
                proposed_by: row.proposed_by,
                answers: row.answers,
                last_at: row.last_at,
                version: row.version,
            })
        })
        .collect()
}

/// Adds a cause that answers can name, of one area or of all; gives its identity.
///
/// # Errors
/// When the name cannot be or is there already, or there is no such area.
#[compiled_once]
pub async fn add(
    pool: &PgPool,
    given: &str,
    group: CauseGroup,
    area: Option<Uuid>,
    (person, at): (Option<Uuid>, DateTime<Utc>),
) -> Result<Uuid, StoreError> {
    let mut act = Act::begin(pool).await?;
    let id = add_to(&mut act, given, group, area, (person, at)).await?;
    act.commit().await?;
    Ok(id)
}

/// The same within an act that does more.
pub(crate) async fn add_to(
    act: &mut Act,
    given: &str,
    group: CauseGroup,
    area: Option<Uuid>,
    (person, at): (Option<Uuid>, DateTime<Utc>),
) -> Result<Uuid, StoreError> {
    let name = name("name", given)?;
    let id = Uuid::new_v4();
    sqlx::query!(
        "insert into cause (id, name, cause_group, area_id, place)
         values ($1, $2, $3, $4, (select coalesce(max(place), 0) + 1 from cause))",
        id,
        name,
        word::word(group)?,
        area
    )
    .execute(act.conn())
    .await
    .map_err(refused)?;
    let detail = json!({"name": name, "group": group, "area": area, "state": CauseState::InUse, "same_as": null});
    act.did(SITE_CHAIN, Deed::new(at, person, Action::CauseAdded, id, &detail), News::Plan);
    Ok(id)
}

/// Changes the place of an entry: takes up what was proposed, moves it, retires it. Its name stays.
///
/// # Errors
/// When there is no such cause or area, it has changed since `seen_version`, or cannot have that place.
#[compiled_once]
pub async fn change(
    pool: &PgPool,
    id: Uuid,
    seen_version: i32,
    place: CausePlace,
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<(), StoreError> {
    let place = place.check(id)?;
    let mut act = Act::begin(pool).await?;
    let old = sqlx::query!(
        "select name, cause_group, area_id, state, same_as, version from cause where id = $1 for update",
        id
    )
    .fetch_optional(act.conn())
    .await?
    .ok_or(StoreError::Missing(ObjectKind::Cause))?;
    same_version(ObjectKind::Cause, seen_version, old.version)?;
    let CausePlace { group, area, state, same_as } = place;
    sqlx::query!(
        "update cause set cause_group = $2, area_id = $3, state = $4, same_as = $5, version = version + 1 where id = $1",
        id,
        group.map(word::word).transpose()?,
        area,
        word::word(state)?,
        same_as
    )
    .execute(act.conn())
    .await
    .map_err(refused)?;
    let was = json!({"group": old.cause_group, "area": old.area_id, "state": old.state, "same_as": old.same_as});
    let detail = json!({"name": old.name, "old": was, "new": place});
    act.did(SITE_CHAIN, Deed::new(at, Some(person), Action::CauseChanged, id, &detail), News::Plan);
    act.commit().await?;
    Ok(())
}

fn refused(error: sqlx::Error) -> StoreError {
    StoreError::of_constraint(error, |constraint| match constraint {
        "cause_named" => Some(SetUpRefusal::Taken("name").into()),
        "cause_area_id_fkey" => Some(StoreError::Missing(ObjectKind::Area)),
        "cause_same_as_fkey" => Some(StoreError::Missing(ObjectKind::Cause)),
        _ => None,
    })
}

/// The cause of an answer, in words, and its entry in the catalogue.
#[derive(Debug, Default)]
pub(crate) struct Named {
    pub id: Option<Uuid>,
    pub name: Option<String>,
}

/// The cause that an answer names. What it proposes is an entry from now on, in the area of the characteristic, unless
/// there is one of that name.
///
/// # Errors
/// When the catalogue has none such that answers can name.
pub(crate) async fn named(
    act: &mut Act,
    characteristic: Uuid,
    given: &Answer,
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<Named, StoreError> {
    if let Some(id) = given.cause {
        // One that was retired meanwhile may be in an answer that had to wait.
        let name = sqlx::query_scalar!("select name from cause where id = $1", id)
            .fetch_optional(act.conn())
            .await?
            .ok_or(StoreError::Missing(ObjectKind::Cause))?;
        return Ok(Named { id: Some(id), name: Some(name) });
    }
    let Some(text) = given.cause_text.as_deref() else { return Ok(Named::default()) };
    if !given.propose {
        return Ok(Named { id: None, name: Some(text.to_owned()) });
    }
    let area = sqlx::query_scalar!(
        "select s.area_id from characteristic c join station s on s.id = c.station_id where c.id = $1",
        characteristic
    )
    .fetch_one(act.conn())
    .await?;
    let new = Uuid::new_v4();
    // Two who propose the same at once make one entry.
    let inserted = sqlx::query_scalar!(
        "insert into cause (id, name, area_id, state, proposed_by, proposed_at)
         select $1, $2, $3, 'proposed', $4, $5
         where not exists (select from cause where lower(name) = lower($2) and area_id is null)
         on conflict do nothing returning id",
        new,
        text,
        area,
        person,
        at
    )
    .fetch_optional(act.conn())
    .await?;
    if let Some(id) = inserted {
        let detail = json!({"name": text, "group": null, "area": area, "state": CauseState::Proposed, "same_as": null});
        act.did(SITE_CHAIN, Deed::new(at, Some(person), Action::CauseProposed, id, &detail), News::Plan);
        let (kind, about) = (NoticeKind::CauseProposed, About::Cause(id));
        raise(act, NewNotice { kind, at, station: None, person: None, about }).await?;
        return Ok(Named { id: Some(id), name: Some(text.to_owned()) });
    }
    let there = sqlx::query!(
        "select id, name from cause where lower(name) = lower($1) and (area_id is null or area_id = $2)
         order by area_id nulls last limit 1",
        text,
        area
    )
    .fetch_one(act.conn())
    .await?;
    Ok(Named { id: Some(there.id), name: Some(there.name) })
}
