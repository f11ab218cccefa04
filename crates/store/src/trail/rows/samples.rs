//! Samples, with what was corrected, set aside and restarted.

use std::collections::{HashMap, HashSet};

use futures::TryStreamExt;
use serde_json::{Value, json};
use sqlx::PgConnection;
use uuid::Uuid;

use super::compare::{Parts, compare, each, missing, parts, rest};
use super::imports::Imports;
use crate::StoreError;
use crate::trail::expected::Expected;
use crate::trail::report::Report;

/// The shift is added to a sample from the calendar, and is not told with it.
fn without_shift(mut of: Value) -> Value {
    if let Some(tags) = of.get_mut("tags").and_then(Value::as_object_mut) {
        tags.remove("shift");
    }
    of
}

pub(super) async fn samples(
    conn: &mut PgConnection,
    id: Uuid,
    expected: &Expected,
    report: &mut Report,
) -> Result<(), StoreError> {
    let told = &expected.samples;
    let mut corrections = Parts::new();
    let rows = sqlx::query!(
        "select sample_id, c.person_id, reason, old, new from correction c join sample s on s.id = sample_id
         where characteristic_id = $1 order by at",
        id
    );
    for row in rows.fetch_all(&mut *conn).await? {
        let held = json!({"old": row.old, "new": row.new, "reason": row.reason, "person": row.person_id});
        corrections.entry(row.sample_id).or_default().push(held);
    }
    let mut asides = Parts::new();
    let rows = sqlx::query!(
        "select sample_id, a.person_id, coalesce(k.name, cause_text) as cause, taken_back_by
         from set_aside a join sample s on s.id = sample_id left join cause k on k.id = cause_id
         where characteristic_id = $1 order by at",
        id
    );
    for row in rows.fetch_all(&mut *conn).await? {
        let held = json!({"cause": row.cause, "person": row.person_id, "taken_back_by": row.taken_back_by});
        asides.entry(row.sample_id).or_default().push(held);
    }
    let mut restarts = Parts::new();
    let rows = sqlx::query!(
        "select sample_id, r.person_id, reason, undone_by from restart r join sample s on s.id = sample_id
         where characteristic_id = $1 order by at",
        id
    );
    for row in rows.fetch_all(&mut *conn).await? {
        let held = json!({"reason": row.reason, "person": row.person_id, "undone_by": row.undone_by});
        restarts.entry(row.sample_id).or_default().push(held);
    }
    let mut seen = HashSet::new();
    let mut imports = Imports::read(&mut *conn, id).await?;
    let mut rows = sqlx::query!(
        r#"select id, number, device, entry, taken_at, person_id, readings as "readings: Vec<Option<f64>>",
                  components as "components: Vec<Option<f64>>", inspected, count, defects, tags, skipped_because,
                  withdrawn_by, withdrawn_because, aside, restart, doubts, event, distance, import_id
           from sample where characteristic_id = $1 order by number"#,
        id
    )
    .fetch(&mut *conn);
    while let Some(row) = rows.try_next().await? {
        seen.insert(row.id);
        let withdrawn = row.withdrawn_by.map(|person| json!({"person": person, "reason": row.withdrawn_because}));
        let holds = json!({
            "number": row.number, "taken_at": row.taken_at, "device": row.device, "entry": row.entry,
            "person": row.person_id, "readings": row.readings, "components": row.components,
            "inspected": row.inspected, "count": row.count, "defects": row.defects,
            "event": row.event, "between": row.distance, "tags": row.tags,
            "because": row.skipped_because, "doubts": row.doubts, "withdrawn": withdrawn, "aside": row.aside, "restart": row.restart,
        });
        let holds = without_shift(holds);
        let told = match (told.get(&row.id), row.import_id) {
            (told, Some(import)) => {
                let first = corrections.get(&row.id).and_then(|all| all.first()).map(|first| &first["old"]);
                imports.told(expected, import, told, (&holds, row.taken_at, first))?
            }
            (Some(told), None) => told.clone(),
            (None, None) => {
                missing(report, "sample", row.id, false);
                continue;
            }
        };
        let mut says = without_shift(told.says.clone());
        if let Value::Object(says) = &mut says {
            // Where nothing was doubted, nothing is told of it.
            let said_doubts = says.remove("doubts").unwrap_or_else(|| json!([]));
            let now = |said: &[Value], undone: &str| json!(said.last().is_some_and(|last| last[undone].is_null()));
            says.extend([
                ("person".into(), json!(told.person)),
                ("doubts".into(), said_doubts),
                ("withdrawn".into(), json!(told.withdrawn)),
                ("aside".into(), now(&told.asides, "taken_back_by")),
                ("restart".into(), now(&told.restarts, "undone_by")),
            ]);
        }
        compare(report, "sample", row.id, &says, &holds);
        parts(report, "correction", row.id, &told.corrections, &mut corrections);
        parts(report, "set_aside", row.id, &told.asides, &mut asides);
        parts(report, "restart", row.id, &told.restarts, &mut restarts);
    }
    drop(rows);
    rest(report, "sample", told, &seen);
    imports.compare(conn, id, expected, report).await
}

/// What is summed up of counts is what their samples hold, which the trail tells.
pub(super) async fn counted(conn: &mut PgConnection, id: Uuid, report: &mut Report) -> Result<(), StoreError> {
    let differing = sqlx::query_scalar!(
        r#"with sums as (
               select quarter_of(taken_at) as quarter, aside, '' as kind, count(*) as samples,
                      sum(inspected)::bigint as inspected, sum(count)::bigint as count
               from sample where characteristic_id = $1 and count is not null and not gap group by 1, 2
               union all
               select quarter_of(taken_at), aside, coalesce(d->>'kind', d->>'word'), 0, 0, sum((d->>'count')::bigint)::bigint
               from sample cross join jsonb_array_elements(defects) d
               where characteristic_id = $1 and count is not null and not gap group by 1, 2, 3),
           kept as (
               select quarter, aside, '' as kind, samples, inspected, count from counted where characteristic_id = $1
               union all
               select quarter, aside, kind, 0, 0, count from counted_kind where characteristic_id = $1)
           select count(*) as "differing!" from sums full join kept using (quarter, aside, kind)
           where coalesce(sums.samples, 0) <> coalesce(kept.samples, 0)
              or coalesce(sums.inspected, 0) <> coalesce(kept.inspected, 0)
              or coalesce(sums.count, 0) <> coalesce(kept.count, 0)"#,
        id
    )
    .fetch_one(conn)
    .await?;
    compare(report, "counted", id, &json!({"differing": 0}), &json!({"differing": differing}));
    Ok(())
}

/// Notes on samples, with whom they are meant for.
pub(super) async fn notes(
    conn: &mut PgConnection,
    id: Uuid,
    told: &HashMap<Uuid, Value>,
    report: &mut Report,
) -> Result<(), StoreError> {
    let rows = sqlx::query!(
        r#"select n.id, s.number, n.person_id, n.text, n.answers_to,
                  array(select person_id from note_mention where note_id = n.id order by person_id) as "mentions!: Vec<Uuid>"
           from note n join sample s on s.id = n.sample_id where s.characteristic_id = $1"#,
        id
    );
    let rows = rows.fetch_all(conn).await?.into_iter().map(|row| {
        let holds = json!({"sample": row.number, "person": row.person_id, "text": row.text,
                           "answers_to": row.answers_to, "mentions": row.mentions});
        (row.id, holds)
    });
    each(report, "note", told, rows);
    Ok(())
}
