//! Notes on the points of a chart.

use std::collections::HashMap;

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use sqlx::PgConnection;
use sqlx::types::Json;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::series::SeriesPoint;

/// A note on a point.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct ChartNote {
    pub id: Uuid,
    /// Place of the point.
    pub place: usize,
    /// What it says.
    pub text: String,
    /// Who wrote it, and alone changes it.
    pub by: Uuid,
    /// Their name.
    pub person: String,
    pub at: DateTime<Utc>,
    /// The note that it answers.
    pub answers_to: Option<Uuid>,
    /// Whom it is meant for.
    pub mentions: Vec<Mentioned>,
    /// Counts its changes.
    pub version: i32,
    /// When it was changed last.
    pub changed_at: Option<DateTime<Utc>>,
}

/// Somebody whom a note is meant for.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Mentioned {
    pub id: Uuid,
    pub name: String,
}

/// Notes on the points shown: in the order of these, each followed by its answers.
pub(super) async fn notes(
    conn: &mut PgConnection,
    id: Uuid,
    series: &[SeriesPoint],
) -> Result<Vec<ChartNote>, StoreError> {
    let (Some(first), Some(last)) = (series.first(), series.last()) else { return Ok(vec![]) };
    let rows = sqlx::query!(
        r#"select n.id, s.number, n.text, n.person_id, p.name as person, n.at, n.answers_to, n.version, n.changed_at,
                  coalesce((select jsonb_agg(jsonb_build_object('id', m.id, 'name', m.name) order by m.name)
                            from note_mention x join person m on m.id = x.person_id
                            where x.note_id = n.id), '[]') as "mentions!: Json<Vec<Mentioned>>"
           from sample s join note n on n.sample_id = s.id join person p on p.id = n.person_id
           left join note begun on begun.id = n.answers_to
           where s.characteristic_id = $1 and s.taken_at between $2 and $3
           order by coalesce(begun.at, n.at), coalesce(begun.id, n.id), n.answers_to is not null, n.at, n.id"#,
        id,
        first.taken_at,
        last.taken_at
    );
    let rows = rows.fetch_all(conn).await?;
    let places: HashMap<i64, usize> = match rows.is_empty() {
        true => HashMap::new(),
        false => series.iter().enumerate().map(|(place, point)| (point.number, place)).collect(),
    };
    let mut notes: Vec<ChartNote> = rows
        .into_iter()
        .filter_map(|row| {
            Some(ChartNote {
                id: row.id,
                place: *places.get(&row.number)?,
                text: row.text,
                by: row.person_id,
                person: row.person,
                at: row.at,
                answers_to: row.answers_to,
                mentions: row.mentions.0,
                version: row.version,
                changed_at: row.changed_at,
            })
        })
        .collect();
    notes.sort_by_key(|note| note.place);
    Ok(notes)
}
