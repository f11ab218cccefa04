//! Rows held against what is said of them.

use std::collections::{BTreeMap, HashMap, HashSet};

use serde_json::{Value, json};
use uuid::Uuid;

use crate::trail::report::{Difference, Finding, Report};

/// Counts a row, and compares each field that the trail speaks of.
pub(super) fn compare(report: &mut Report, table: &'static str, row: Uuid, says: &Value, holds: &Value) {
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
pub(super) fn same(a: &Value, b: &Value) -> bool {
    match (a, b) {
        (Value::Number(a), Value::Number(b)) => a == b || a.as_f64() == b.as_f64(),
        (Value::Array(a), Value::Array(b)) => a.len() == b.len() && a.iter().zip(b).all(|(a, b)| same(a, b)),
        (Value::Object(a), Value::Object(b)) => {
            a.len() == b.len() && a.iter().all(|(name, a)| b.get(name).is_some_and(|b| same(a, b)))
        }
        _ => a == b,
    }
}

pub(super) fn missing(report: &mut Report, table: &'static str, row: Uuid, in_trail: bool) {
    let (trail, holds) = (json!(in_trail), json!(!in_trail));
    report.find(Finding::Row(Difference { table, row, field: "row".into(), trail, holds }));
}

/// What the trail tells of, and no row was found of.
pub(super) fn rest<T>(report: &mut Report, table: &'static str, told: &HashMap<Uuid, T>, seen: &HashSet<Uuid>) {
    let mut gone: Vec<Uuid> = told.keys().copied().filter(|id| !seen.contains(id)).collect();
    gone.sort();
    gone.into_iter().for_each(|id| missing(report, table, id, true));
}

/// Rows that belong to others, such as the answers of a signal, in their order.
pub(super) type Parts = BTreeMap<Uuid, Vec<Value>>;

pub(super) fn parts(report: &mut Report, table: &'static str, of: Uuid, says: &[Value], held: &mut Parts) {
    let held = held.remove(&of).unwrap_or_default();
    for i in 0..says.len().max(held.len()) {
        match (says.get(i), held.get(i)) {
            (Some(says), Some(held)) => compare(report, table, of, says, held),
            (says, _) => missing(report, table, of, says.is_some()),
        }
    }
}

/// Rows that the trail tells of one by one: each is compared, and none is missing on either side.
pub(super) fn each(
    report: &mut Report,
    table: &'static str,
    told: &HashMap<Uuid, Value>,
    held: impl IntoIterator<Item = (Uuid, Value)>,
) {
    let mut seen = HashSet::new();
    for (row, holds) in held {
        seen.insert(row);
        match told.get(&row) {
            Some(says) => compare(report, table, row, says, &holds),
            None => missing(report, table, row, false),
        }
    }
    rest(report, table, told, &seen);
}
