//! Samples as points of a chart.

use quality::characteristic::Kind;
use quality::entry::Tags;
use quality::sample::{Content, Counts, Defects, Plotted, Readings};
use sqlx::PgConnection;
use sqlx::types::Json;
use uuid::Uuid;

use super::types::{ChartPoint, Gap};
use crate::StoreError;

/// The newest `most` points up to `until`, newest first.
pub(super) async fn latest(
    conn: &mut PgConnection,
    id: Uuid,
    until: Option<Uuid>,
    most: i64,
) -> Result<Vec<ChartPoint>, StoreError> {
    let rows = sqlx::query!(
        r#"select s.id, s.number, s.taken_at, s.arrived_at, p.name as person, s.tags as "tags: Json<Tags>", s.version,
                  s.readings as "readings: Vec<Option<f64>>", s.components as "components: Vec<Option<f64>>",
                  s.inspected, s.defects as "defects: Json<Vec<Defects>>", s.skipped_because, s.withdrawn_because,
                  w.name as "withdrawn_by?", exists (select from correction where sample_id = s.id) as "corrected!"
           from sample s
           join person p on p.id = s.person_id
           left join person w on w.id = s.withdrawn_by
           where s.characteristic_id = $1
             and ($2::uuid is null or s.taken_at <= coalesce(
                 (select taken_at from sample after where after.characteristic_id = $1 and after.taken_at >
                     (select taken_at from sample where id = $2 and characteristic_id = $1)
                  order by after.taken_at, after.number offset 4 limit 1), 'infinity'))
           order by s.taken_at desc, s.number desc
           limit $3"#,
        id,
        until,
        most
    )
    .fetch_all(conn)
    .await?;
    let points = rows.into_iter().map(|row| {
        let content = match (row.readings, row.inspected) {
            (Some(values), _) => Some(Content::Readings(Readings { values, components: row.components })),
            (None, Some(inspected)) => {
                Some(Content::Counts(Counts { inspected: inspected.unsigned_abs(), defects: row.defects.0 }))
            }
            (None, None) => None,
        };
        let gap = match (row.skipped_because, row.withdrawn_because) {
            (Some(because), _) => Some(Gap { withdrawn: false, because, person: row.person.clone() }),
            (None, Some(because)) => {
                Some(Gap { withdrawn: true, because, person: row.withdrawn_by.unwrap_or_default() })
            }
            (None, None) => None,
        };
        ChartPoint {
            sample: row.id,
            number: row.number,
            taken_at: row.taken_at,
            arrived_at: row.arrived_at,
            person: row.person,
            tags: row.tags.0,
            content,
            gap,
            version: row.version,
            corrected: row.corrected,
        }
    });
    Ok(points.collect())
}

impl ChartPoint {
    pub(super) fn plotted(&self, kind: Kind) -> Plotted {
        let content = self.content.as_ref().filter(|_| self.gap.is_none());
        content.map_or(Plotted::gap(kind), Content::plotted)
    }
}
