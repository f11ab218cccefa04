//! Signals, answers, reviews, and the episodes that follow from them.

use std::collections::{HashMap, HashSet};

use serde_json::{Map, Value, json};
use sqlx::PgConnection;
use uuid::Uuid;

use super::compare::{Parts, compare, each, missing, parts, rest};
use crate::StoreError;
use crate::trail::expected::Signal;
use crate::trail::report::Report;

pub(super) async fn signals(
    conn: &mut PgConnection,
    id: Uuid,
    told: &HashMap<Uuid, Signal>,
    report: &mut Report,
) -> Result<(), StoreError> {
    let (mut answers, mut reviews) = (Parts::new(), Parts::new());
    let rows = sqlx::query!(
        r#"select o.signal_id, a.person_id, at, coalesce(cause_text, k.name) as "cause?", nothing_found, action, comment,
                  steps, held, corrected
           from answer a join answer_of o on o.answer_id = a.id join signal g on g.id = o.signal_id
           left join cause k on k.id = cause_id
           where characteristic_id = $1 order by coalesce(a.arrived_at, at)"#,
        id
    );
    for row in rows.fetch_all(&mut *conn).await? {
        let held = json!({"cause": row.cause, "nothing_found": row.nothing_found, "action": row.action,
                          "comment": row.comment, "steps": row.steps, "held": row.held, "corrected": row.corrected,
                          "person": row.person_id, "at": row.at});
        answers.entry(row.signal_id).or_default().push(held);
    }
    let rows = sqlx::query!(
        "select o.signal_id, r.person_id, at, decision, remark
         from review r join review_of o on o.review_id = r.id join signal g on g.id = o.signal_id
         where characteristic_id = $1 order by at",
        id
    );
    for row in rows.fetch_all(&mut *conn).await? {
        let held = json!({"decision": row.decision, "remark": row.remark, "person": row.person_id, "at": row.at});
        reviews.entry(row.signal_id).or_default().push(held);
    }
    let rows = sqlx::query!(
        r#"select id, panel, rule, side, center, sigma, state, withdrawn_at is not null as "withdrawn!", episode_id,
                  run_id
           from signal where characteristic_id = $1 order by raised_at, id"#,
        id
    );
    let mut seen = HashSet::new();
    for row in rows.fetch_all(conn).await? {
        seen.insert(row.id);
        let Some(told) = told.get(&row.id) else {
            missing(report, "signal", row.id, false);
            continue;
        };
        let holds = json!({"panel": row.panel, "rule": row.rule, "side": row.side, "center": row.center,
                           "sigma": row.sigma, "run": row.run_id, "state": row.state, "withdrawn": row.withdrawn,
                           "episode": row.episode_id});
        let mut says: Map<String, Value> = told.raised.as_object().cloned().unwrap_or_default();
        // Of charts, trails say nothing of runs.
        says.entry("run").or_insert(Value::Null);
        says.extend([("state".into(), json!(told.state)), ("withdrawn".into(), json!(told.withdrawn))]);
        says.extend(told.episode.clone().map(|episode| ("episode".into(), episode)));
        compare(report, "signal", row.id, &Value::Object(says), &holds);
        parts(report, "answer", row.id, &told.answers, &mut answers);
        parts(report, "review", row.id, &told.reviews, &mut reviews);
    }
    rest(report, "signal", told, &seen);
    Ok(())
}

/// Episodes, which follow from their signals: where they lie, and where the least settled of those stands.
pub(super) async fn episodes(conn: &mut PgConnection, id: Uuid, report: &mut Report) -> Result<(), StoreError> {
    let rows = sqlx::query!(
        r#"select e.id, e.state, e.from_number, e.to_number,
                  (array_agg(g.state order by array_position(
                      array['sent_back', 'open', 'found_late', 'answered', 'reviewed'], g.state)))[1] as "least!",
                  (array_agg(f.number order by f.taken_at, f.number))[1] as "first!",
                  (array_agg(t.number order by t.taken_at desc, t.number desc))[1] as "last!"
           from episode e
           join signal g on g.episode_id = e.id and g.withdrawn_at is null and g.characteristic_id = e.characteristic_id
           join sample f on f.id = g.from_sample join sample t on t.id = g.to_sample
           where e.characteristic_id = $1 and not exists (
               select from signal o where o.episode_id = e.id and o.withdrawn_at is not null and o.state = 'answered')
           group by e.id order by e.raised_at, e.id"#,
        id
    );
    for row in rows.fetch_all(conn).await? {
        let says = json!({"state": row.least, "from": row.first, "to": row.last});
        let holds = json!({"state": row.state, "from": row.from_number, "to": row.to_number});
        compare(report, "episode", row.id, &says, &holds);
    }
    Ok(())
}

/// Episodes that were raised to the supervisors.
pub(super) async fn escalated(
    conn: &mut PgConnection,
    id: Uuid,
    told: &HashMap<Uuid, Value>,
    report: &mut Report,
) -> Result<(), StoreError> {
    let rows = sqlx::query!(
        "select id, escalated_at from episode where characteristic_id = $1 and escalated_at is not null",
        id
    );
    let rows = rows.fetch_all(conn).await?.into_iter();
    each(report, "episode", told, rows.map(|row| (row.id, json!({"escalated_at": row.escalated_at}))));
    Ok(())
}
