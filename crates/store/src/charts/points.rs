//! Samples as points of a chart.

use quality::entry::{Doubt, Tags};
use quality::sample::{Content, Counts, Defects, RareEvent, Readings};
use sqlx::PgConnection;
use sqlx::types::Json;
use uuid::Uuid;

use super::types::{ChartPoint, Gap, Said};
use crate::StoreError;

/// The samples of these numbers, in their order on the chart, which is given with them.
pub(crate) async fn details(
    conn: &mut PgConnection,
    id: Uuid,
    shown: &[(usize, i64)],
) -> Result<Vec<ChartPoint>, StoreError> {
    let numbers: Vec<i64> = shown.iter().map(|(_, number)| *number).collect();
    let rows = sqlx::query!(
        r#"select s.id, s.number, s.taken_at, s.arrived_at, p.name as person, s.tags as "tags: Json<Tags>", s.version,
                  s.readings as "readings: Vec<Option<f64>>", s.components as "components: Vec<Option<f64>>",
                  s.inspected, s.event, s.distance, s.doubts as "doubts: Json<Vec<Doubt>>", s.defects as "defects: Json<Vec<Defects>>", s.skipped_because, s.withdrawn_because,
                  w.name as "withdrawn_by?", exists (select from correction where sample_id = s.id) as "corrected!",
                  case when s.aside then (
                      select jsonb_build_object('because', coalesce(c.name, a.cause_text), 'person', by.name, 'at', a.at)
                      from set_aside a join person by on by.id = a.person_id left join cause c on c.id = a.cause_id
                      where a.sample_id = s.id and a.taken_back_at is null) end as "aside: Json<Said>",
                  case when s.restart then (
                      select jsonb_build_object('because', r.reason, 'person', by.name, 'at', r.at)
                      from restart r join person by on by.id = r.person_id
                      where r.sample_id = s.id and r.undone_at is null) end as "restart: Json<Said>"
           from sample s
           join person p on p.id = s.person_id
           left join person w on w.id = s.withdrawn_by
           where s.characteristic_id = $1 and s.number = any($2)
           order by s.taken_at, s.number"#,
        id,
        &numbers
    )
    .fetch_all(conn)
    .await?;
    let points = rows.into_iter().zip(shown).map(|(row, (place, _))| {
        let content =
            content((row.readings, row.components), (row.inspected, row.defects.0), (row.event, row.distance));
        let gap = Gap::of(&row.person, row.skipped_because, (row.withdrawn_because, row.withdrawn_by));
        ChartPoint {
            place: *place,
            sample: row.id,
            number: row.number,
            taken_at: row.taken_at,
            arrived_at: row.arrived_at,
            person: row.person,
            tags: row.tags.0,
            doubts: row.doubts.0,
            content,
            gap,
            version: row.version,
            corrected: row.corrected,
            aside: row.aside.map(|said| said.0),
            restart: row.restart.map(|said| said.0),
        }
    });
    Ok(points.collect())
}

/// What a sample recorded, by its columns: readings, counts, or an event; nothing where it was skipped.
pub(crate) fn content(
    (readings, components): (Option<Vec<Option<f64>>>, Vec<Option<f64>>),
    (inspected, defects): (Option<i32>, Vec<Defects>),
    (event, between): (bool, Option<f64>),
) -> Option<Content> {
    match (readings, inspected) {
        (Some(values), _) => Some(Content::Readings(Readings { values, components })),
        (None, Some(inspected)) => Some(Content::Counts(Counts { inspected: inspected.unsigned_abs(), defects })),
        (None, None) => event.then_some(Content::Event(RareEvent { between })),
    }
}

impl Gap {
    /// Of who entered a sample: why it was skipped, or why and by whom it was withdrawn.
    pub(crate) fn of(
        entered_by: &str,
        skipped: Option<String>,
        withdrawn: (Option<String>, Option<String>),
    ) -> Option<Self> {
        match (skipped, withdrawn) {
            (Some(because), _) => Some(Self { withdrawn: false, because, person: entered_by.to_owned() }),
            (None, (Some(because), by)) => Some(Self { withdrawn: true, because, person: by.unwrap_or_default() }),
            (None, (None, _)) => None,
        }
    }
}
