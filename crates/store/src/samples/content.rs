//! What a sample holds, as its columns and the trail say it.

use quality::entry::{Doubt, Tags};
use quality::sample::Content;
use serde_json::{Value, json};

use crate::StoreError;

/// What the trail says about the content of a sample.
pub(crate) fn said(content: &Content, tags: &Tags, doubts: &[Doubt]) -> Value {
    let mut said = match content {
        Content::Readings(r) if r.components.is_empty() => json!({"readings": r.values, "tags": tags}),
        Content::Readings(r) => json!({"readings": r.values, "components": r.components, "tags": tags}),
        Content::Counts(c) => {
            json!({"inspected": c.inspected, "count": c.count(), "defects": c.defects, "tags": tags})
        }
        Content::Event(e) => match e.between {
            Some(between) => json!({"event": true, "between": between, "tags": tags}),
            // How far it lies from the event before changes with what comes late; its time says all.
            None => json!({"event": true, "tags": tags}),
        },
    };
    if !doubts.is_empty() {
        said["doubts"] = json!(doubts);
    }
    said
}

/// A sample's content as its columns hold it.
pub(crate) struct Columns {
    pub readings: Option<Vec<Option<f64>>>,
    pub components: Vec<Option<f64>>,
    pub inspected: Option<i32>,
    pub count: Option<i32>,
    pub defects: Value,
    pub event: bool,
    pub distance: Option<f64>,
}

impl Default for Columns {
    fn default() -> Self {
        let (readings, inspected, count, distance) = (None, None, None, None);
        Self { readings, components: vec![], inspected, count, defects: json!([]), event: false, distance }
    }
}

pub(crate) fn columns(content: &Content) -> Result<Columns, StoreError> {
    let whole = |n: u32| i32::try_from(n).unwrap_or(i32::MAX);
    Ok(match content {
        Content::Readings(r) => {
            Columns { readings: Some(r.values.clone()), components: r.components.clone(), ..Columns::default() }
        }
        Content::Counts(c) => Columns {
            inspected: Some(whole(c.inspected)),
            count: Some(whole(c.count())),
            defects: serde_json::to_value(&c.defects)?,
            ..Columns::default()
        },
        Content::Event(e) => Columns { event: true, distance: e.between, ..Columns::default() },
    })
}
