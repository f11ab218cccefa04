//! The tables held against what the trail says of their rows.

use std::collections::{BTreeMap, BTreeSet, HashMap, HashSet};

use chrono::{DateTime, Utc};
use futures::TryStreamExt;
use serde_json::{Map, Value, json};
use sqlx::PgConnection;
use uuid::Uuid;

use super::expected::{Expected, Sample, Signal};
use super::report::{Difference, Finding, Report};
use crate::StoreError;

/// Counts a row, and compares each field that the trail speaks of.
fn compare(report: &mut Report, table: &'static str, row: Uuid, says: &Value, holds: &Value) {
    report.rows += 1;
    for (field, trail) in says.as_object().into_iter().flatten() {
        let held = holds.get(field).cloned().unwrap_or(Value::Null);
        if !same(trail, &held) {
            let field = field.clone();
            report.find(Finding::Row(Difference { table, row, field, trail: trail.clone(), holds: held }));
        }
    }
}

/// Whether two values say the same; a number may have lost its decimals on the way through a table.
fn same(a: &Value, b: &Value) -> bool {
    match (a, b) {
        (Value::Number(a), Value::Number(b)) => a == b || a.as_f64() == b.as_f64(),
        (Value::Array(a), Value::Array(b)) => a.len() == b.len() && a.iter().zip(b).all(|(a, b)| same(a, b)),
        (Value::Object(a), Value::Object(b)) => {
            a.len() == b.len() && a.iter().all(|(name, a)| b.get(name).is_some_and(|b| same(a, b)))
        }
        _ => a == b,
    }
}

fn missing(report: &mut Report, table: &'static str, row: Uuid, in_trail: bool) {
    let (trail, holds) = (json!(in_trail), json!(!in_trail));
    report.find(Finding::Row(Difference { table, row, field: "row".into(), trail, holds }));
}

/// What the trail tells of, and no row was found of.
fn rest<T>(report: &mut Report, table: &'static str, told: &HashMap<Uuid, T>, seen: &HashSet<Uuid>) {
    let mut gone: Vec<Uuid> = told.keys().copied().filter(|id| !seen.contains(id)).collect();
    gone.sort();
    gone.into_iter().for_each(|id| missing(report, table, id, true));
}

/// The shift is added to a sample from the calendar, and is not told with it.
fn without_shift(mut of: Value) -> Value {
    if let Some(tags) = of.get_mut("tags").and_then(Value::as_object_mut) {
        tags.remove("shift");
    }
    of
}

/// People and their roles.
pub(super) async fn of_site(conn: &mut PgConnection, site: &Expected, report: &mut Report) -> Result<(), StoreError> {
    let mut seen = HashSet::new();
    for row in sqlx::query!("select id, login, role from person").fetch_all(&mut *conn).await? {
        seen.insert(row.id);
        match site.people.get(&row.id) {
            Some(says) => compare(report, "person", row.id, says, &json!({"login": row.login, "role": row.role})),
            None => missing(report, "person", row.id, false),
        }
    }
    rest(report, "person", &site.people, &seen);
    let limits =
        sqlx::query_scalar!("select id from limits where put_in_force_at is not null").fetch_all(&mut *conn).await?;
    rest(report, "limits", &site.limits_before, &limits.into_iter().collect());
    rule_sets(conn, &site.rule_sets, report).await
}

/// Versions of named rule sets.
async fn rule_sets(
    conn: &mut PgConnection,
    told: &BTreeMap<(Uuid, i64), Value>,
    report: &mut Report,
) -> Result<(), StoreError> {
    let mut seen = BTreeSet::new();
    let rows = sqlx::query!("select rule_set_id, version, rules, person_id from rule_set_version");
    for row in rows.fetch_all(conn).await? {
        let key = (row.rule_set_id, i64::from(row.version));
        seen.insert(key);
        match told.get(&key) {
            Some(says) => {
                let holds = json!({"rules": row.rules, "person": row.person_id});
                compare(report, "rule_set_version", row.rule_set_id, says, &holds);
            }
            None => missing(report, "rule_set_version", row.rule_set_id, false),
        }
    }
    for (of, _) in told.keys().filter(|key| !seen.contains(*key)) {
        missing(report, "rule_set_version", *of, true);
    }
    Ok(())
}

/// Samples, corrections, limits, signals, answers and reviews of one characteristic.
pub(super) async fn of_characteristic(
    conn: &mut PgConnection,
    id: Uuid,
    expected: &Expected,
    limits_before: &HashMap<Uuid, Value>,
    report: &mut Report,
) -> Result<(), StoreError> {
    samples(&mut *conn, id, &expected.samples, report).await?;
    signals(&mut *conn, id, &expected.signals, report).await?;
    episodes(&mut *conn, id, report).await?;
    let mut seen = HashSet::new();
    let limits = sqlx::query!(
        "select l.id, center, sigma, sigma_between, mean_n, shape, scale, lower, upper
         from limits l join phase p on p.id = phase_id
         where characteristic_id = $1 and put_in_force_at is not null",
        id
    );
    for row in limits.fetch_all(&mut *conn).await? {
        seen.insert(row.id);
        let holds = json!({"center": row.center, "sigma": row.sigma, "sigma_between": row.sigma_between,
                           "mean_n": row.mean_n, "shape": row.shape, "scale": row.scale, "lower": row.lower,
                           "upper": row.upper});
        match expected.limits.get(&row.id).or_else(|| limits_before.get(&row.id)) {
            Some(says) => compare(report, "limits", row.id, says, &holds),
            None => missing(report, "limits", row.id, false),
        }
    }
    rest(report, "limits", &expected.limits, &seen);
    kept(&mut *conn, id, &expected.kept, report).await?;
    declined(&mut *conn, id, &expected.declined, report).await?;
    let mut seen = HashSet::new();
    let phases = sqlx::query!(
        r#"select id, name, starts_at, merged_at is not null as "merged!" from phase where characteristic_id = $1"#,
        id
    );
    for row in phases.fetch_all(&mut *conn).await? {
        seen.insert(row.id);
        // Older ones began before the trail told of phases.
        if let Some(says) = expected.phases.get(&row.id) {
            let holds = json!({"name": row.name, "starts_at": row.starts_at, "merged": row.merged});
            compare(report, "phase", row.id, says, &holds);
        }
    }
    rest(report, "phase", &expected.phases, &seen);
    schemes(conn, id, &expected.schemes, report).await
}

/// Limits that were looked at and kept.
async fn kept(
    conn: &mut PgConnection,
    id: Uuid,
    told: &HashMap<Uuid, Vec<Value>>,
    report: &mut Report,
) -> Result<(), StoreError> {
    let mut held = Parts::new();
    let rows = sqlx::query!(
        "select k.limits_id, k.person_id, k.reason, k.until
         from limits_kept k join limits l on l.id = k.limits_id join phase p on p.id = l.phase_id
         where p.characteristic_id = $1 order by k.at",
        id
    );
    for row in rows.fetch_all(conn).await? {
        let kept = json!({"reason": row.reason, "until": row.until, "person": row.person_id});
        held.entry(row.limits_id).or_default().push(kept);
    }
    let limits: BTreeSet<Uuid> = told.keys().chain(held.keys()).copied().collect();
    for of in limits {
        parts(report, "limits_kept", of, told.get(&of).map_or(&[], Vec::as_slice), &mut held);
    }
    Ok(())
}

/// Events at which no phase began.
async fn declined(
    conn: &mut PgConnection,
    id: Uuid,
    told: &HashMap<Uuid, Value>,
    report: &mut Report,
) -> Result<(), StoreError> {
    let mut seen = HashSet::new();
    let rows = sqlx::query!("select event_id, person_id from phase_declined where characteristic_id = $1", id);
    for row in rows.fetch_all(conn).await? {
        seen.insert(row.event_id);
        match told.get(&row.event_id) {
            Some(says) => compare(report, "phase_declined", row.event_id, says, &json!({"person": row.person_id})),
            None => missing(report, "phase_declined", row.event_id, false),
        }
    }
    rest(report, "phase_declined", told, &seen);
    Ok(())
}

/// Schemes that held earlier.
async fn schemes(
    conn: &mut PgConnection,
    id: Uuid,
    told: &BTreeMap<DateTime<Utc>, Value>,
    report: &mut Report,
) -> Result<(), StoreError> {
    let mut seen = BTreeSet::new();
    let rows = sqlx::query!(
        "select ends_at, chart, options, rule_set, k from earlier_scheme where characteristic_id = $1",
        id
    );
    for row in rows.fetch_all(conn).await? {
        seen.insert(row.ends_at);
        let holds = json!({"chart": row.chart, "options": row.options, "rule_set": row.rule_set, "k": row.k});
        match told.get(&row.ends_at) {
            Some(says) => compare(report, "earlier_scheme", id, says, &holds),
            None => missing(report, "earlier_scheme", id, false),
        }
    }
    for _ in told.keys().filter(|ends| !seen.contains(ends)) {
        missing(report, "earlier_scheme", id, true);
    }
    Ok(())
}

/// Rows that belong to others, such as the answers of a signal, in their order.
type Parts = BTreeMap<Uuid, Vec<Value>>;

fn parts(report: &mut Report, table: &'static str, of: Uuid, says: &[Value], held: &mut Parts) {
    let held = held.remove(&of).unwrap_or_default();
    for i in 0..says.len().max(held.len()) {
        match (says.get(i), held.get(i)) {
            (Some(says), Some(held)) => compare(report, table, of, says, held),
            (says, _) => missing(report, table, of, says.is_some()),
        }
    }
}

async fn samples(
    conn: &mut PgConnection,
    id: Uuid,
    told: &HashMap<Uuid, Sample>,
    report: &mut Report,
) -> Result<(), StoreError> {
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
    let mut rows = sqlx::query!(
        r#"select id, number, device, entry, taken_at, person_id, readings as "readings: Vec<Option<f64>>",
                  components as "components: Vec<Option<f64>>", inspected, count, defects, tags, skipped_because,
                  withdrawn_by, withdrawn_because, aside, restart, doubts, event, distance
           from sample where characteristic_id = $1 order by number"#,
        id
    )
    .fetch(conn);
    while let Some(row) = rows.try_next().await? {
        seen.insert(row.id);
        let Some(told) = told.get(&row.id) else {
            missing(report, "sample", row.id, false);
            continue;
        };
        let withdrawn = row.withdrawn_by.map(|person| json!({"person": person, "reason": row.withdrawn_because}));
        let holds = json!({
            "number": row.number, "taken_at": row.taken_at, "device": row.device, "entry": row.entry,
            "person": row.person_id, "readings": row.readings, "components": row.components,
            "inspected": row.inspected, "count": row.count, "defects": row.defects,
            "event": row.event, "between": row.distance, "tags": row.tags,
            "because": row.skipped_because, "doubts": row.doubts, "withdrawn": withdrawn, "aside": row.aside, "restart": row.restart,
        });
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
        compare(report, "sample", row.id, &says, &without_shift(holds));
        parts(report, "correction", row.id, &told.corrections, &mut corrections);
        parts(report, "set_aside", row.id, &told.asides, &mut asides);
        parts(report, "restart", row.id, &told.restarts, &mut restarts);
    }
    rest(report, "sample", told, &seen);
    Ok(())
}

async fn signals(
    conn: &mut PgConnection,
    id: Uuid,
    told: &HashMap<Uuid, Signal>,
    report: &mut Report,
) -> Result<(), StoreError> {
    let (mut answers, mut reviews) = (Parts::new(), Parts::new());
    let rows = sqlx::query!(
        r#"select o.signal_id, a.person_id, at, coalesce(cause_text, k.name) as "cause?", nothing_found, action, comment,
                  steps, held
           from answer a join answer_of o on o.answer_id = a.id join signal g on g.id = o.signal_id
           left join cause k on k.id = cause_id
           where characteristic_id = $1 order by at"#,
        id
    );
    for row in rows.fetch_all(&mut *conn).await? {
        let held = json!({"cause": row.cause, "nothing_found": row.nothing_found, "action": row.action,
                          "comment": row.comment, "steps": row.steps, "held": row.held, "person": row.person_id, "at": row.at});
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
        r#"select id, panel, rule, side, center, sigma, state, withdrawn_at is not null as "withdrawn!", episode_id
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
                           "sigma": row.sigma, "state": row.state, "withdrawn": row.withdrawn,
                           "episode": row.episode_id});
        let mut says: Map<String, Value> = told.raised.as_object().cloned().unwrap_or_default();
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
async fn episodes(conn: &mut PgConnection, id: Uuid, report: &mut Report) -> Result<(), StoreError> {
    let rows = sqlx::query!(
        r#"select e.id, e.state, e.from_number, e.to_number,
                  (array_agg(g.state order by array_position(
                      array['sent_back', 'open', 'found_late', 'answered', 'reviewed'], g.state)))[1] as "least!",
                  (array_agg(f.number order by f.taken_at, f.number))[1] as "first!",
                  (array_agg(t.number order by t.taken_at desc, t.number desc))[1] as "last!"
           from episode e
           join signal g on g.episode_id = e.id and g.withdrawn_at is null
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
