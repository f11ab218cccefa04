//! The list of limits to look at, and of phases that events propose.

use chrono::{DateTime, NaiveDate, Utc};
use quality::limits::LimitsLook;
use serde::{Deserialize, Serialize};
use sqlx::PgExecutor;
use sqlx::types::Json;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;

/// Limits in force that are to be looked at.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct ToLookAt {
    /// Whose limits.
    pub characteristic: Uuid,
    pub name: String,
    pub product: String,
    pub station: String,
    /// The phase that they hold in.
    pub phase: Uuid,
    /// What the limits are called.
    pub limits_name: Option<String>,
    /// Nothing while they are on trial.
    pub put_in_force_at: Option<DateTime<Utc>>,
    /// What the points since say; nothing where only the date has come.
    pub look: Option<LimitsLook>,
    /// Since when the process seems to be elsewhere.
    pub since: Option<DateTime<Utc>>,
    /// The sample that a new phase could begin at.
    pub proposed: Option<Uuid>,
    /// Its number.
    pub proposed_number: Option<i64>,
    /// The date that was set for the next look, where it has come.
    pub next_look: Option<NaiveDate>,
    /// Counts changes of the limits; a change names the version it was made on.
    pub version: i32,
    /// Why somebody kept them before, the last time.
    pub kept: Option<Kept>,
    /// What happened at the station that proposes a phase.
    pub event: Option<ProposedByEvent>,
}

/// An event since the last start of a phase, of a kind that proposes one.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct ProposedByEvent {
    pub id: Uuid,
    /// What happened.
    pub kind: String,
    /// The lot that it names.
    pub lot: Option<String>,
    pub at: DateTime<Utc>,
    /// The first sample after it.
    pub sample: Uuid,
    /// Its number.
    pub number: i64,
}

/// Somebody looked and kept limits.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct Kept {
    pub person: String,
    pub at: DateTime<Utc>,
    pub reason: String,
    pub until: NaiveDate,
}

/// Limits to look at, the least likely first, then those whose date has come; of one characteristic where one is named.
pub async fn to_look_at(
    conn: impl PgExecutor<'_>,
    characteristic: Option<Uuid>,
    today: NaiveDate,
) -> Result<Vec<ToLookAt>, StoreError> {
    let rows = sqlx::query!(
        r#"select c.id, c.name, d.name as product, t.name as station, p.id as phase, l.name as limits_name,
                  l.put_in_force_at, look.look as "look?: Json<LimitsLook>", look.listed_since as "listed_since?",
                  s.taken_at as "since?", s.id as "sample?", s.number as "number?", look.proposed as "proposed?",
                  l.next_look, h.limits_version, k.at as "kept_at?", k.reason as "kept_reason?", k.until as "kept_until?",
                  by.name as "kept_by?", e.proposed as "event?: Json<ProposedByEvent>"
           from limits l
           join phase p on p.id = l.phase_id and p.merged_at is null
           join characteristic c on c.id = p.characteristic_id
           join station t on t.id = c.station_id
           join product d on d.id = c.product_id
           join sample_head h on h.characteristic_id = c.id
           left join limits_look look on look.limits_id = l.id
           left join sample s on s.id = look.since_sample_id
           left join lateral (select * from limits_kept where limits_id = l.id order by at desc limit 1) k on true
           left join person by on by.id = k.person_id
           left join lateral (
               select jsonb_build_object('id', e.id, 'kind', ek.name, 'lot', e.lot, 'at', e.at, 'sample', f.id,
                                         'number', f.number) as proposed
               from event e
               join event_kind ek on ek.id = e.kind_id
               join lateral (select id, number from sample where characteristic_id = c.id and not gap
                             and taken_at >= e.at order by taken_at, number limit 1) f on true
               where cardinality(c.phase_events) > 0 and e.station_id = c.station_id
                 and e.kind_id = any(c.phase_events) and e.at > p.starts_at
                 and not exists (select from phase_declined where characteristic_id = c.id and event_id = e.id)
               order by e.at desc limit 1) e on true
           where l.state <> 'retired' and ($1::uuid is null or c.id = $1)
             -- The last phase of each: looked up one by one, however few there seem to be when this is planned.
             and p.id = (select id from phase where characteristic_id = c.id and merged_at is null
                         order by starts_at desc limit 1)
             and (l.state = 'in_force' and (look.listed_since is not null or greatest(l.next_look, k.until) <= $2)
                  or e.proposed is not null)
           order by look.listed_since is null, (look.look->>'p')::double precision, abs((look.look->>'shift')::double precision) desc,
                    l.next_look, c.name"#,
        characteristic,
        today
    )
    .fetch_all(conn)
    .await?;
    Ok(rows
        .into_iter()
        .map(|row| {
            let listed = row.listed_since.is_some() && row.put_in_force_at.is_some();
            let proposed = listed && row.proposed == Some(true);
            let kept = row.kept_at.zip(row.kept_reason).zip(row.kept_until).zip(row.kept_by);
            ToLookAt {
                characteristic: row.id,
                name: row.name,
                product: row.product,
                station: row.station,
                phase: row.phase,
                limits_name: row.limits_name,
                put_in_force_at: row.put_in_force_at,
                look: row.look.map(|look| look.0).filter(|_| listed),
                since: row.since.filter(|_| listed),
                proposed: row.sample.filter(|_| proposed),
                proposed_number: row.number.filter(|_| proposed),
                next_look: row.next_look.filter(|date| *date <= today),
                version: row.limits_version,
                kept: kept.map(|(((at, reason), until), person)| Kept { person, at, reason, until }),
                event: row.event.map(|event| event.0),
            }
        })
        .collect())
}
