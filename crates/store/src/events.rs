//! What happens to the process at a station: events, lots, pieces made.

use chrono::{DateTime, SubsecRound, Utc};
use quality::field::{Allowed, WrongField, name, optional_text};
use quality::object::ObjectKind;
use quality::trail::{Action, Deed};
use serde::{Deserialize, Serialize};
use serde_json::json;
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::act::Act;
use crate::news::News;
use crate::once::compiled_once;
use crate::trail::SITE_CHAIN;

/// Something that can happen to a process.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct EventKind {
    pub id: Uuid,
    /// In words, such as `Tool change`.
    pub name: String,
    /// The event names the lot that is worked on from then on.
    pub names_lot: bool,
}

/// Something that happened.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Event {
    pub id: Uuid,
    /// When it happened.
    pub at: DateTime<Utc>,
    /// What, in words.
    pub kind: String,
    /// The new lot.
    pub lot: Option<String>,
    /// A remark.
    pub text: Option<String>,
    /// Who told it.
    pub person: String,
}

/// An event to record.
#[derive(Debug, Clone)]
pub struct NewEvent {
    pub station: Uuid,
    pub kind: Uuid,
    /// When it happened.
    pub at: DateTime<Utc>,
    /// When it was told.
    pub arrived_at: DateTime<Utc>,
    /// Who told it.
    pub person: Uuid,
    /// The new lot, for kinds that name one.
    pub lot: Option<String>,
    /// A remark.
    pub text: Option<String>,
    /// The device it was told on.
    pub device: Uuid,
    /// Made by the device; telling it twice keeps one event.
    pub entry: Uuid,
}

/// All kinds of events, in the order of the catalogue.
#[compiled_once]
pub async fn kinds(pool: &PgPool) -> Result<Vec<EventKind>, StoreError> {
    Ok(sqlx::query_as!(EventKind, "select id, name, names_lot from event_kind order by place, name")
        .fetch_all(pool)
        .await?)
}

/// Adds a kind of event.
#[compiled_once]
pub async fn add_kind(conn: &mut PgConnection, name: &str, place: i32, names_lot: bool) -> Result<Uuid, StoreError> {
    let id = Uuid::new_v4();
    sqlx::query!(
        "insert into event_kind (id, name, place, names_lot) values ($1, $2, $3, $4)",
        id,
        name,
        place,
        names_lot
    )
    .execute(conn)
    .await?;
    Ok(id)
}

/// Records an event; the same entry twice keeps one.
///
/// # Errors
/// When station or kind are missing, the kind names a lot and none is given, or a text is too long.
#[compiled_once]
pub async fn record(pool: &PgPool, new: &NewEvent) -> Result<Uuid, StoreError> {
    let remark = optional_text("text", new.text.as_deref())?;
    let mut act = Act::begin(pool).await?;
    let station = sqlx::query!("select name from station where id = $1 for no key update", new.station)
        .fetch_optional(act.conn())
        .await?
        .ok_or(StoreError::Missing(ObjectKind::Station))?;
    let kind = sqlx::query!("select name, names_lot from event_kind where id = $1", new.kind)
        .fetch_optional(act.conn())
        .await?
        .ok_or(StoreError::Missing(ObjectKind::EventKind))?;
    let lot = kind.names_lot.then(|| name("lot", new.lot.as_deref().unwrap_or_default())).transpose()?;
    let before = sqlx::query!(
        "select id, station_id, kind_id from event where device = $1 and entry = $2",
        new.device,
        new.entry
    )
    .fetch_optional(act.conn())
    .await?;
    if let Some(before) = before {
        let same = (before.station_id, before.kind_id) == (new.station, new.kind);
        return if same { Ok(before.id) } else { Err(StoreError::EntryReused) };
    }
    let (id, at) = (Uuid::new_v4(), new.at.trunc_subsecs(6));
    sqlx::query!(
        "insert into event (id, station_id, kind_id, at, arrived_at, person_id, lot, text, device, entry)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)",
        id,
        new.station,
        new.kind,
        at,
        new.arrived_at,
        new.person,
        lot,
        remark,
        new.device,
        new.entry
    )
    .execute(act.conn())
    .await
    .map_err(|error| {
        // The same entry id at the same moment at another station.
        StoreError::of_constraint(error, |name| (name == "event_entry_once").then_some(StoreError::EntryReused))
    })?;
    // An event told late does not bring back a lot that has been followed by another.
    sqlx::query!(
        "update station set lot = $2, lot_began = $3
         where id = $1 and $2::text is not null and (lot_began is null or lot_began <= $3)",
        new.station,
        lot,
        at
    )
    .execute(act.conn())
    .await?;
    let detail = json!({"station": station.name, "kind": kind.name, "at": at, "lot": lot, "text": remark});
    let deed = Deed::new(new.arrived_at, Some(new.person), Action::EventRecorded, id, &detail);
    act.did(SITE_CHAIN, deed, News::Station { station: new.station });
    act.commit().await?;
    Ok(id)
}

/// Pieces that were made at a station since the last count.
#[derive(Debug, Clone, Copy)]
pub struct NewPieces {
    pub station: Uuid,
    /// How many, 1 to 1,000,000.
    pub pieces: i64,
    /// When they were counted.
    pub at: DateTime<Utc>,
    /// When that reached the server.
    pub arrived_at: DateTime<Utc>,
    /// Who counted.
    pub person: Uuid,
    /// The device it was told on.
    pub device: Uuid,
    /// Made by the device; sending it twice counts them once.
    pub entry: Uuid,
}

/// Pieces of one count at most.
const PIECES_AT_MOST: u32 = 1_000_000;

/// Counts pieces that were made; gives all that were made at the station so far.
///
/// # Errors
/// A number out of bounds, no such station, or an entry id that was used for another count.
#[compiled_once]
pub async fn count_pieces(pool: &PgPool, new: &NewPieces) -> Result<i64, StoreError> {
    let NewPieces { station, pieces, at, arrived_at, person, device, entry } = *new;
    if !(1..=i64::from(PIECES_AT_MOST)).contains(&pieces) {
        return Err(WrongField::new("pieces", Allowed::Whole { least: 1, most: PIECES_AT_MOST }).into());
    }
    let mut act = Act::begin(pool).await?;
    // Counts of a station queue here, so that one sent twice at the same moment is seen.
    let made = sqlx::query_scalar!("select pieces_made from station where id = $1 for no key update", station)
        .fetch_optional(act.conn())
        .await?
        .ok_or(StoreError::Missing(ObjectKind::Station))?;
    let before =
        sqlx::query!("select station_id, pieces from piece_count where device = $1 and entry = $2", device, entry)
            .fetch_optional(act.conn())
            .await?;
    if let Some(before) = before {
        let same = before.station_id == station && before.pieces == pieces;
        return if same { Ok(made) } else { Err(StoreError::EntryReused) };
    }
    let id = Uuid::new_v4();
    sqlx::query!(
        "insert into piece_count (id, station_id, pieces, at, arrived_at, person_id, device, entry)
         values ($1, $2, $3, $4, $5, $6, $7, $8)",
        id,
        station,
        pieces,
        at,
        arrived_at,
        person,
        device,
        entry
    )
    .execute(act.conn())
    .await
    .map_err(|error| {
        StoreError::of_constraint(error, |name| (name == "piece_count_entry_once").then_some(StoreError::EntryReused))
    })?;
    let made = made + pieces;
    sqlx::query!("update station set pieces_made = $2 where id = $1", station, made).execute(act.conn()).await?;
    let detail = json!({"pieces": pieces, "made": made, "at": at, "device": device, "entry": entry});
    let deed = Deed::new(arrived_at, Some(person), Action::PiecesCounted, station, &detail);
    act.did(SITE_CHAIN, deed, News::Station { station });
    act.commit().await?;
    Ok(made)
}

/// What happened at a station from `since` on, up to `until` when it is given.
pub(crate) async fn between(
    conn: &mut PgConnection,
    station: Uuid,
    since: DateTime<Utc>,
    until: Option<DateTime<Utc>>,
) -> Result<Vec<Event>, StoreError> {
    Ok(sqlx::query_as!(
        Event,
        "select e.id, e.at, k.name as kind, e.lot, e.text, p.name as person
         from event e join event_kind k on k.id = e.kind_id join person p on p.id = e.person_id
         where e.station_id = $1 and e.at >= $2 and ($3::timestamptz is null or e.at <= $3)
         order by e.at limit 500",
        station,
        since,
        until
    )
    .fetch_all(conn)
    .await?)
}
