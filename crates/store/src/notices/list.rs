//! What stands under somebody's bell.

use chrono::{DateTime, Duration, Utc};
use quality::notice::NoticeKind;
use quality::signal::SignalState;
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::once::compiled_once;
use crate::people::Person;
use crate::{StoreError, word};

/// Older ones are not listed: what is still open stands under Signals.
const LISTED_DAYS: i64 = 30;

/// A notice as it is listed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct NoticeView {
    pub id: Uuid,
    pub kind: NoticeKind,
    pub at: DateTime<Utc>,
    /// Not seen yet.
    pub new: bool,
    /// Where it happened.
    pub station: Option<String>,
    /// The characteristic of an episode.
    pub characteristic: Option<String>,
    /// On what.
    pub product: Option<String>,
    /// The episode that it tells of.
    pub episode: Option<Uuid>,
    /// Where that stands now.
    pub state: Option<SignalState>,
    /// The run that it tells of.
    pub run: Option<Uuid>,
    /// The number of that.
    pub run_number: Option<i64>,
    /// The cause that it tells of.
    pub cause: Option<String>,
    /// The point that the note stands on which it tells of.
    pub point: Option<NotedPoint>,
}

/// Where a note stands.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct NotedPoint {
    /// The characteristic.
    pub characteristic: Uuid,
    /// Number of the sample.
    pub number: i64,
    /// Who wrote it.
    pub person: String,
}

/// What concerns somebody.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Bell {
    /// How many are new, of those listed.
    pub new: i64,
    /// The latest first, at most 50 of the last 30 days.
    pub notices: Vec<NoticeView>,
}

/// What concerns a person: what is theirs alone, and what concerns their role at their stations.
#[compiled_once]
pub async fn bell(pool: &PgPool, person: &Person, now: DateTime<Utc>) -> Result<Bell, StoreError> {
    let kinds = NoticeKind::ALL.into_iter().filter(|kind| kind.rings() && kind.concerns(person.role));
    let kinds = kinds.map(word::word).collect::<Result<Vec<_>, _>>()?;
    let rows = sqlx::query!(
        r#"select n.id, n.kind, n.at, n.at > coalesce(p.notices_seen_at, '-infinity') as "new!", s.name as "station?",
                  c.name as "characteristic?", r.name as "product?", n.episode_id, e.state as "state?", n.run_id,
                  u.number as "run_number?", k.name as "cause?", m.characteristic_id as "noted?",
                  m.number as "noted_number?", w.name as "noted_by?"
           from notice n join person p on p.id = $1
           left join station s on s.id = n.station_id left join episode e on e.id = n.episode_id
           left join note t on t.id = n.note_id left join sample m on m.id = t.sample_id
           left join person w on w.id = t.person_id
           left join characteristic c on c.id = coalesce(e.characteristic_id, m.characteristic_id) left join product r on r.id = c.product_id
           left join run u on u.id = n.run_id left join cause k on k.id = n.cause_id
           where n.at > $4 and n.kind = any($2) and (n.person_id = $1 or n.person_id is null
               and (n.station_id is null or cardinality($3::uuid[]) = 0 or n.station_id = any($3)))
           order by n.at desc, n.id limit 50"#,
        person.id,
        &kinds,
        &person.stations,
        now - Duration::days(LISTED_DAYS)
    );
    let rows = rows.fetch_all(pool).await?.into_iter();
    let notices: Vec<NoticeView> = rows
        .map(|row| {
            Ok(NoticeView {
                id: row.id,
                kind: word::value(row.kind)?,
                at: row.at,
                new: row.new,
                station: row.station,
                characteristic: row.characteristic,
                product: row.product,
                episode: row.episode_id,
                state: row.state.map(word::value).transpose()?,
                run: row.run_id,
                run_number: row.run_number,
                cause: row.cause,
                point: match (row.noted, row.noted_number, row.noted_by) {
                    (Some(characteristic), Some(number), Some(person)) => {
                        Some(NotedPoint { characteristic, number, person })
                    }
                    _ => None,
                },
            })
        })
        .collect::<Result<_, StoreError>>()?;
    let new = notices.iter().filter(|notice| notice.new).count();
    Ok(Bell { new: i64::try_from(new).unwrap_or(i64::MAX), notices })
}

/// A person has seen what stood there until then.
#[compiled_once]
pub async fn seen(pool: &PgPool, person: Uuid, until: DateTime<Utc>) -> Result<(), StoreError> {
    sqlx::query!("update person set notices_seen_at = greatest(notices_seen_at, $2) where id = $1", person, until)
        .execute(pool)
        .await?;
    Ok(())
}
