//! Limits, phases and schemes.

use std::collections::{BTreeMap, BTreeSet, HashMap, HashSet};

use chrono::{DateTime, Utc};
use serde_json::{Value, json};
use sqlx::PgConnection;
use uuid::Uuid;

use super::compare::{Parts, compare, each, missing, parts, rest};
use crate::StoreError;
use crate::trail::expected::Expected;
use crate::trail::report::Report;

/// Figures of limits, those that were kept, phases and schemes.
pub(super) async fn limits(
    conn: &mut PgConnection,
    id: Uuid,
    expected: &Expected,
    limits_before: &HashMap<Uuid, Value>,
    report: &mut Report,
) -> Result<(), StoreError> {
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
    let rows = sqlx::query!("select event_id, person_id from phase_declined where characteristic_id = $1", id);
    let rows = rows.fetch_all(conn).await?.into_iter();
    each(report, "phase_declined", told, rows.map(|row| (row.event_id, json!({"person": row.person_id}))));
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
