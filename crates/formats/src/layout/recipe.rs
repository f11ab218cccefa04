//! The recipe by which a table that was laid out comes in again, equal to the last digit.

use serde_json::{Map, Value, json};

use super::lay::{COUNT, INSPECTED, Layout, OF, READING, SAMPLE, TAKEN_AT, kind, reading, tag};
use super::outgoing::Outgoing;
use crate::table::CLOCK;

/// How a table is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Written {
    /// RFC 4180.
    Csv,
    /// Office Open XML.
    Xlsx,
    /// OpenDocument.
    Ods,
    /// An array of flat objects.
    Json,
}

/// The recipe of a table for the samples of one characteristic; nothing where its shape leaves out what they were.
/// `of` is its name, where the table holds several.
pub fn recipe(out: &Outgoing, layout: &Layout, written: Written, of: Option<&str>) -> Option<Value> {
    let format = match written {
        Written::Csv => "csv",
        Written::Xlsx => "xlsx",
        Written::Ods => "ods",
        Written::Json => "json",
    };
    let here = || out.samples.iter().filter(|sample| of.is_none() || sample.of.as_deref() == of);
    let pieces = here().map(|sample| sample.readings().len()).max().unwrap_or(0);
    let counts = here().any(|sample| sample.count().is_some());
    let kinds: Vec<&str> =
        out.kinds().into_iter().filter(|name| here().any(|it| it.kinds().iter().any(|(k, _)| k == name))).collect();
    let shape = match layout {
        Layout::Across if counts && kinds.is_empty() => {
            json!({"kind": "counts", "count": COUNT, "inspected": INSPECTED})
        }
        Layout::Across if counts => {
            let kinds: Map<String, Value> = kinds.iter().map(|name| ((*name).to_owned(), kind(name).into())).collect();
            json!({"kind": "counts", "kinds": kinds, "inspected": INSPECTED})
        }
        Layout::Across => json!({"kind": "across", "values": (1..=pieces.max(1)).map(reading).collect::<Vec<_>>()}),
        Layout::Grouped => json!({"kind": "grouped", "value": READING, "by": [SAMPLE], "gather": "neighbours"}),
        Layout::Down | Layout::Crossed { .. } => return None,
    };
    let mut tags: Vec<&str> = here().flat_map(|sample| sample.tags.keys().map(String::as_str)).collect();
    tags.sort_unstable();
    tags.dedup();
    let tags: Map<String, Value> = tags.iter().map(|name| ((*name).to_owned(), tag(name).into())).collect();
    let mut recipe = json!({"read": {"format": format}, "shape": shape,
                            "time": {"column": TAKEN_AT, "format": CLOCK}, "tags": tags});
    if let Some(of) = of {
        recipe["where"] = json!([{"column": OF, "is": [of]}]);
    }
    Some(recipe)
}
