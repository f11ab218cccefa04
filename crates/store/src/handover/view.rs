//! What is handed over.

use chrono::{DateTime, Duration, Utc};
use quality::device::SILENT_AFTER_MINUTES;
use quality::handover::handed_over;
use quality::object::ObjectKind;
use quality::signal::SignalState::{Answered, FoundLate, Open, Reviewed, SentBack};
use quality::trail::Action;
use serde::{Deserialize, Serialize};
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use super::words::{HandoverWord, of_shift};
use crate::episodes::{self, EpisodeFilter, EpisodeOrder, EpisodeRow};
use crate::once::compiled_once;
use crate::trail::{self, TrailEntry, TrailFilter};
use crate::{StoreError, sites};

/// More of a kind than this are not listed; their lists show them.
const LISTED_AT_MOST: i64 = 200;

/// A sample that was skipped.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Skipped {
    /// The characteristic.
    pub characteristic: Uuid,
    pub name: String,
    pub station: String,
    /// On what.
    pub product: String,
    /// Its number.
    pub number: i64,
    pub at: DateTime<Utc>,
    pub because: String,
    pub person: String,
}

/// A device that has not been heard of for too long.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SilentDevice {
    pub name: String,
    /// Its stations, in words.
    pub stations: String,
    /// When it was last heard.
    pub since: DateTime<Utc>,
}

/// Somebody who has read it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct HandoverReader {
    pub person: Uuid,
    pub name: String,
    pub at: DateTime<Utc>,
}

/// What is handed over from a shift. What is open and what is silent is told as it stands now, the rest as it was in the
/// shift.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct HandoverView {
    /// Name of the shift.
    pub shift: String,
    pub began: DateTime<Utc>,
    pub ends: DateTime<Utc>,
    /// When the shift before began.
    pub before: Option<DateTime<Utc>>,
    /// When the shift after began, where it has begun.
    pub after: Option<DateTime<Utc>>,
    /// Words that were left, oldest first.
    pub words: Vec<HandoverWord>,
    /// Episodes that wait for an answer now, as they are worked through; at most 200.
    pub open: Vec<EpisodeRow>,
    /// How many wait.
    pub open_count: i64,
    /// Episodes of the shift that were answered or reviewed, or found late, the latest first; at most 200.
    pub dealt_with: Vec<EpisodeRow>,
    /// How many there are.
    pub dealt_with_count: i64,
    /// Samples that were skipped, oldest first; at most 200.
    pub skipped: Vec<Skipped>,
    /// What was done to limits, points and set-ups, the latest first; at most 200.
    pub changes: Vec<TrailEntry>,
    /// Devices that are silent now.
    pub silent: Vec<SilentDevice>,
    /// Who has read it.
    pub read_by: Vec<HandoverReader>,
}

/// What is handed over from the shift that holds `asked`, or else from the one that is handed over at `now`; `within`
/// keeps it to stations.
///
/// # Errors
/// When the site has no shifts, or the shift is still to come.
#[compiled_once]
pub async fn view(
    pool: &PgPool,
    asked: Option<DateTime<Utc>>,
    within: Option<&[Uuid]>,
    now: DateTime<Utc>,
) -> Result<HandoverView, StoreError> {
    let calendar = sites::calendar(pool).await?;
    let it = handed_over(&calendar, asked, now).ok_or(StoreError::Missing(ObjectKind::Shift))?;
    let (began, ends) = (it.turn.began, it.turn.ends);
    let episodes = |states: &[_]| EpisodeFilter {
        states: states.to_vec(),
        within: within.map(<[Uuid]>::to_vec),
        ..EpisodeFilter::default()
    };
    let open = EpisodeFilter { order: EpisodeOrder::Queue, ..episodes(&[Open, SentBack]) };
    let dealt_with =
        EpisodeFilter { from: Some(began), until: Some(ends), ..episodes(&[Answered, Reviewed, FoundLate]) };
    let changes = TrailFilter {
        actions: CHANGES.to_vec(),
        within: within.map(<[Uuid]>::to_vec),
        from: Some(began),
        until: Some(ends),
        ..TrailFilter::default()
    };
    let mut conn = pool.acquire().await?;
    let words = of_shift(&mut conn, began, within).await?;
    let skipped = skipped(&mut conn, (began, ends), within).await?;
    let silent = silent(&mut conn, within, now).await?;
    let read_by = read_by(&mut conn, began).await?;
    drop(conn);
    Ok(HandoverView {
        shift: it.turn.name,
        began,
        ends,
        before: it.before,
        after: it.after,
        words,
        open: episodes::list(pool, &open, LISTED_AT_MOST).await?,
        open_count: episodes::count(pool, &open).await?,
        dealt_with: episodes::list(pool, &dealt_with, LISTED_AT_MOST).await?,
        dealt_with_count: episodes::count(pool, &dealt_with).await?,
        skipped,
        changes: trail::list(pool, &changes, LISTED_AT_MOST).await?,
        silent,
        read_by,
    })
}

/// When the shift that holds `asked` began.
///
/// # Errors
/// When the site has no shifts, or the shift is still to come.
#[compiled_once]
pub async fn begun(pool: &PgPool, asked: DateTime<Utc>, now: DateTime<Utc>) -> Result<DateTime<Utc>, StoreError> {
    let calendar = sites::calendar(pool).await?;
    let it = handed_over(&calendar, Some(asked), now).ok_or(StoreError::Missing(ObjectKind::Shift))?;
    Ok(it.turn.began)
}

/// What whoever comes next has to know was changed.
const CHANGES: [Action; 11] = [
    Action::LimitsPutInForce,
    Action::LimitsKept,
    Action::PhaseStarted,
    Action::PhaseMoved,
    Action::PhaseMerged,
    Action::SampleSetAside,
    Action::SampleTakenBack,
    Action::RestartMarked,
    Action::RestartUndone,
    Action::CharacteristicChanged,
    Action::ControlLotTookOver,
];

async fn skipped(
    conn: &mut PgConnection,
    (began, ends): (DateTime<Utc>, DateTime<Utc>),
    within: Option<&[Uuid]>,
) -> Result<Vec<Skipped>, StoreError> {
    Ok(sqlx::query_as!(
        Skipped,
        r#"select c.id as characteristic, c.name, st.name as station, p.name as product, s.number, s.taken_at as at,
                  s.skipped_because as "because!", w.name as person
           from sample s join characteristic c on c.id = s.characteristic_id join station st on st.id = c.station_id
           join product p on p.id = c.product_id join person w on w.id = s.person_id
           where s.gap and s.skipped_because is not null and s.withdrawn_at is null
             and s.taken_at >= $1 and s.taken_at < $2 and ($3::uuid[] is null or st.id = any($3))
           order by s.taken_at, s.number limit $4"#,
        began,
        ends,
        within,
        LISTED_AT_MOST
    )
    .fetch_all(conn)
    .await?)
}

async fn silent(
    conn: &mut PgConnection,
    within: Option<&[Uuid]>,
    now: DateTime<Utc>,
) -> Result<Vec<SilentDevice>, StoreError> {
    Ok(sqlx::query_as!(
        SilentDevice,
        r#"select p.name, d.heard_at as "since!",
                  (select coalesce(string_agg(s.name, ', ' order by s.place, s.name), '') from device_station x
                   join station s on s.id = x.station_id where x.device_id = d.id) as "stations!"
           from device d join person p on p.id = d.id
           -- A monitor that is off keeps nothing from anybody who comes next.
           where d.revoked_at is null and d.heard_at < $1 and d.kind <> 'display'
             and ($2::uuid[] is null or exists (
                 select from device_station x where x.device_id = d.id and x.station_id = any($2)))
           order by p.name"#,
        now - Duration::minutes(SILENT_AFTER_MINUTES),
        within
    )
    .fetch_all(conn)
    .await?)
}

async fn read_by(conn: &mut PgConnection, began: DateTime<Utc>) -> Result<Vec<HandoverReader>, StoreError> {
    Ok(sqlx::query_as!(
        HandoverReader,
        "select p.id as person, p.name, r.at from handover_read r join person p on p.id = r.person_id
         where r.shift_began = $1 order by r.at, p.name",
        began
    )
    .fetch_all(conn)
    .await?)
}
