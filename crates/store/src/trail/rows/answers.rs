//! What goes with answers: additions, files, restarts that were asked for.

use std::collections::{BTreeSet, HashMap, HashSet};

use serde_json::{Value, json};
use sqlx::PgConnection;
use uuid::Uuid;

use super::compare::{Parts, compare, missing, parts, rest};
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
    let mut seen = HashSet::new();
    let rows = sqlx::query!(
        r#"select f.id, f.name, encode(sha256(f.content), 'hex') as "digest!"
           from file f left join addition d on d.id = f.addition_id
           where exists (select from answer_of o join signal g on g.id = o.signal_id
                         where o.answer_id = coalesce(f.answer_id, d.answer_id) and g.characteristic_id = $1)"#,
        id
    );
    for row in rows.fetch_all(conn).await? {
        seen.insert(row.id);
        match told.get(&row.id) {
            Some(says) => compare(report, "file", row.id, says, &json!({"name": row.name, "sha256": row.digest})),
            None => missing(report, "file", row.id, false),
        }
    }
    rest(report, "file", told, &seen);
    Ok(())
}

/// Restarts that answers asked for.
pub(super) async fn planned_restarts(
    conn: &mut PgConnection,
    id: Uuid,
    told: &HashMap<Uuid, Value>,
    report: &mut Report,
) -> Result<(), StoreError> {
    let mut seen = HashSet::new();
    let rows =
        sqlx::query!("select answer_id, corrected_at, dropped from planned_restart where characteristic_id = $1", id);
    for row in rows.fetch_all(conn).await? {
        seen.insert(row.answer_id);
        let holds = json!({"corrected_at": row.corrected_at, "dropped": row.dropped});
        match told.get(&row.answer_id) {
            Some(says) => compare(report, "planned_restart", row.answer_id, says, &holds),
            None => missing(report, "planned_restart", row.answer_id, false),
        }
    }
    rest(report, "planned_restart", told, &seen);
    Ok(())
}
