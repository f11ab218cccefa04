//! Points of a period that broke a rule, or carry an action or a remark.

use chrono::{DateTime, Utc};
use quality::episode::{Found, Pattern, patterns};
use serde::{Deserialize, Serialize};
use sqlx::PgPool;
use sqlx::types::Json;
use utoipa::ToSchema;
use uuid::Uuid;

use super::head::Asked;
use crate::StoreError;

/// A point with what is said of it.
#[derive(Debug, Clone, Serialize, Deserialize, ToSchema)]
pub struct PointLine {
    pub characteristic: Uuid,
    pub name: String,
    pub station: String,
    /// On what.
    pub product: String,
    /// Number of the sample.
    pub number: i64,
    pub at: DateTime<Utc>,
    /// Who entered it.
    pub person: String,
    /// Its readings, in their order; nothing for counts.
    pub readings: Vec<Option<f64>>,
    pub unit: String,
    pub decimals: i16,
    /// Of counts: how many.
    pub count: Option<i32>,
    /// Of counts: of how many.
    pub inspected: Option<i32>,
    /// Rules that were broken there, the most telling first.
    pub patterns: Vec<Pattern>,
    /// The actions that answers to them name, oldest first.
    pub actions: Vec<ReportNote>,
    /// Notes, corrections and the causes of setting aside, oldest first.
    pub remarks: Vec<ReportNote>,
}

/// What somebody said of a point.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ReportNote {
    pub person: String,
    pub at: DateTime<Utc>,
    pub text: String,
}

/// The points of the period, oldest first, at most `most`. A rule is broken at the last point of its pattern.
pub(super) async fn lines(pool: &PgPool, asked: &Asked, most: i64) -> Result<Vec<PointLine>, StoreError> {
    let rows = sqlx::query!(
        r#"with told as (
               select to_sample as id from signal where withdrawn_at is null
               union select sample_id from note union select sample_id from correction
               union select sample_id from set_aside where taken_back_at is null),
           line as (
               select s.*, c.name, c.unit, c.decimals, st.name as station, p.name as product, w.name as person
               from sample s join told on told.id = s.id join characteristic c on c.id = s.characteristic_id
               join station st on st.id = c.station_id join product p on p.id = c.product_id
               join person w on w.id = s.person_id
               where s.taken_at >= $1 and s.taken_at < $2 and ($3::uuid is null or st.area_id = $3)
                 and ($4::uuid is null or st.id = $4) and ($5::uuid is null or c.id = $5)
                 and ($6::uuid is null or exists (
                     select from level l where l.characteristic_id = c.id and l.analyte_id = $6))
                 and ($7::uuid[] is null or st.id = any($7))
               order by s.taken_at, s.number, s.id limit $8)
           select l.characteristic_id as "characteristic!", l.name as "name!", l.unit as "unit!",
                  l.decimals as "decimals!", l.station as "station!", l.product as "product!", l.person as "person!",
                  l.number as "number!", l.taken_at as "taken_at!", l.readings as "readings?: Vec<Option<f64>>", l.count,
                  l.inspected, found.signals as "signals!: Json<Vec<Found>>",
                  actions.said as "actions!: Json<Vec<ReportNote>>", remarks.said as "remarks!: Json<Vec<ReportNote>>"
           from line l
           cross join lateral (
               select coalesce(jsonb_agg(jsonb_build_object('rule', g.rule, 'panel', g.panel, 'side', g.side, 'points',
                   (select count(*) from sample s where s.characteristic_id = g.characteristic_id
                        and (s.taken_at, s.number) >= (f.taken_at, f.number)
                        and (s.taken_at, s.number) <= (l.taken_at, l.number) and not s.gap and not s.aside))
                   order by f.taken_at, f.number, g.id), '[]') as signals
               from signal g join sample f on f.id = g.from_sample
               where g.to_sample = l.id and g.withdrawn_at is null) found
           cross join lateral (
               select coalesce(jsonb_agg(jsonb_build_object('person', x.name, 'at', x.at, 'text', x.action)
                                         order by x.at), '[]') as said
               from (select distinct a.id, p.name, a.at, a.action from signal g
                     join answer_of o on o.signal_id = g.id join answer a on a.id = o.answer_id
                     join person p on p.id = a.person_id
                     where g.to_sample = l.id and g.withdrawn_at is null) x) actions
           cross join lateral (
               select coalesce(jsonb_agg(jsonb_build_object('person', p.name, 'at', x.at, 'text', x.text)
                                         order by x.at), '[]') as said
               from (select person_id, at, text from note where sample_id = l.id
                     union all select person_id, at, reason from correction where sample_id = l.id
                     union all select a.person_id, a.at, coalesce(k.name, a.cause_text) from set_aside a
                     left join cause k on k.id = a.cause_id
                     where a.sample_id = l.id and a.taken_back_at is null) x
               join person p on p.id = x.person_id) remarks
           order by l.taken_at, l.number, l.id"#,
        asked.from,
        asked.until,
        asked.area,
        asked.station,
        asked.characteristic,
        asked.analyte,
        asked.within.as_deref(),
        most
    );
    let rows = rows.fetch_all(pool).await?.into_iter();
    let lines = rows.map(|row| PointLine {
        characteristic: row.characteristic,
        name: row.name,
        station: row.station,
        product: row.product,
        number: row.number,
        at: row.taken_at,
        person: row.person,
        readings: row.readings.unwrap_or_default(),
        unit: row.unit,
        decimals: row.decimals,
        count: row.count,
        inspected: row.inspected,
        patterns: patterns(&row.signals.0),
        actions: row.actions.0,
        remarks: row.remarks.0,
    });
    Ok(lines.collect())
}
