//! What goes with answers: additions, files, restarts that were asked for.

use std::collections::{BTreeSet, HashMap};

use serde_json::{Value, json};
use sqlx::PgConnection;
use uuid::Uuid;

use super::compare::{Parts, each, parts};
use crate::StoreError;
use crate::trail::report::Report;

/// What was added to answers, in its order.
pub(super) async fn additions(
    conn: &mut PgConnection,
    id: Uuid,
    told: &HashMap<Uuid, Vec<Value>>,
    report: &mut Report,
) -> Result<(), StoreError> {
    let mut held = Parts::new();
    let rows = sqlx::query!(
        "select d.id, d.answer_id, d.person_id, d.at, d.comment from addition d
         where exists (select from answer_of o join signal g on g.id = o.signal_id
                       where o.answer_id = d.answer_id and g.characteristic_id = $1)
         order by coalesce(d.arrived_at, d.at), d.id",
        id
    );
    for row in rows.fetch_all(conn).await? {
        let addition = json!({"addition": row.id, "comment": row.comment, "person": row.person_id, "at": row.at});
        held.entry(row.answer_id).or_default().push(addition);
    }
    let answers: BTreeSet<Uuid> = told.keys().chain(held.keys()).copied().collect();
    for of in answers {
        parts(report, "addition", of, told.get(&of).map_or(&[], Vec::as_slice), &mut held);
    }
    Ok(())
}

/// Files of answers and additions, by a digest of what they hold.
pub(super) async fn files(
    conn: &mut PgConnection,
    id: Uuid,
    told: &HashMap<Uuid, Value>,
    report: &mut Report,
) -> Result<(), StoreError> {
    let rows = sqlx::query!(
        r#"select f.id, f.name, encode(sha256(f.content), 'hex') as "digest!"
           from file f left join addition d on d.id = f.addition_id
           where exists (select from answer_of o join signal g on g.id = o.signal_id
                         where o.answer_id = coalesce(f.answer_id, d.answer_id) and g.characteristic_id = $1)"#,
        id
    );
    let rows = rows.fetch_all(conn).await?.into_iter();
    each(report, "file", told, rows.map(|row| (row.id, json!({"name": row.name, "sha256": row.digest}))));
    Ok(())
}

/// Restarts that answers asked for.
pub(super) async fn planned_restarts(
    conn: &mut PgConnection,
    id: Uuid,
    told: &HashMap<Uuid, Value>,
    report: &mut Report,
) -> Result<(), StoreError> {
    let rows =
        sqlx::query!("select answer_id, corrected_at, dropped from planned_restart where characteristic_id = $1", id);
    let rows = rows.fetch_all(conn).await?.into_iter();
    each(
        report,
        "planned_restart",
        told,
        rows.map(|row| (row.answer_id, json!({"corrected_at": row.corrected_at, "dropped": row.dropped}))),
    );
    Ok(())
}
