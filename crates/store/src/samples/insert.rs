//! A sample takes its place, and what lies beside it is read with the same question.

use quality::entry::{Accepted, Doubt, Tags};
use quality::shift::Turn;
use sqlx::PgConnection;
use uuid::Uuid;

use super::content::{Columns, columns};
use super::new::{NewSample, Visit};
use crate::StoreError;
use crate::series::{Beside, BesideRow, Stretch};

/// What the database says of a sample that was inserted.
pub(super) struct Inserted {
    pub number: i64,
    /// It is the first after a correction of the process, as far as has been told.
    pub begins_afresh: bool,
    /// What lies beside it.
    pub beside: Beside,
}

/// Inserts the sample under the next number of its characteristic, and reads what lies beside it, behind all of its own
/// time; nothing where its entry was saved before.
pub(super) async fn insert(
    conn: &mut PgConnection,
    id: Uuid,
    new: &NewSample,
    (turn, doubts): (Option<Turn>, &[Doubt]),
    run: Option<Uuid>,
    (stretch, (most_before, most_after)): (&Stretch<'_>, (usize, usize)),
) -> Result<Option<Inserted>, StoreError> {
    let (columns, mut tags, because) = match &new.visit {
        Visit::Taken(Accepted { content, tags, .. }) => (columns(content)?, tags.clone(), None),
        Visit::Skipped { because } => (Columns::default(), Tags::default(), Some(because)),
    };
    if let Some(turn) = turn {
        tags.insert("shift".into(), turn.name);
    }
    let rows = sqlx::query_as!(
        BesideRow,
        r#"with head as (
             update sample_head h set next_number = next_number + 1, newest_at = greatest(newest_at, $5),
                 newest_pieces = case when newest_at > $5 then newest_pieces else s.pieces_made end
             from characteristic c join station s on s.id = c.station_id
             where h.characteristic_id = $2 and c.id = $2
                 and not exists (select from sample where device = $3 and entry = $4)
             returning next_number - 1 as number, s.pieces_made),
         saved as (
             insert into sample (id, characteristic_id, number, device, entry, taken_at, arrived_at, person_id, readings,
                 components, inspected, count, defects, tags, pieces_made, skipped_because, run_id, doubts, event, distance)
             select $1, $2, head.number, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, head.pieces_made, $14, $15, $16, $17,
                 $18
             from head
             returning number, coalesce((
                 -- The last correction before it says it: others before it have their restart there or earlier.
                 select p.starts_at is null or p.starts_at > $5 from planned_restart p
                 where p.characteristic_id = $2 and p.corrected_at < $5 and not p.dropped
                 order by p.corrected_at desc limit 1), false) as begins_afresh)
         select saved.number as "saved_as?", saved.begins_afresh as "begins_afresh?", b.is_later, b.id, b.number, b.taken_at,
             b.readings as "readings: Vec<Option<f64>>", b.count, b.inspected, b.distance, b.part, b.aside, b.restart, b.sums,
             b.gap, b.last_signal
         from saved left join beside($2, $5, $19, $5, $19, $20, $21, $22, $23) b on true
         order by b.is_later, b.taken_at, b.number"#,
        id,
        new.characteristic,
        new.device,
        new.entry,
        new.taken_at,
        new.arrived_at,
        new.person,
        columns.readings as Option<Vec<Option<f64>>>,
        columns.components as Vec<Option<f64>>,
        columns.inspected,
        columns.count,
        columns.defects,
        serde_json::to_value(tags)?,
        because,
        run,
        serde_json::to_value(doubts)?,
        columns.event,
        columns.distance,
        i64::MAX,
        stretch.starts_at,
        stretch.ends_before,
        most_before as i64,
        most_after as i64
    );
    let rows = rows.fetch_all(conn).await.map_err(|error| {
        // The same entry id at the same moment on another characteristic.
        StoreError::of_constraint(error, |name| (name == "sample_entry_once").then_some(StoreError::EntryReused))
    })?;
    let said = rows.first().and_then(|row| row.saved_as.zip(row.begins_afresh));
    Ok(said.map(|(number, begins_afresh)| Inserted { number, begins_afresh, beside: Beside::of(stretch, rows) }))
}
