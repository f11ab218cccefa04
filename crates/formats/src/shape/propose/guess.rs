//! The likeliest shape.

use serde_json::{Map, Value, json};

use super::super::grid::RawTable;
use super::columns::{Class, Numbers};
use super::file::{Found, LOOKED_AT};
use super::reason::ShapeReason;

/// Readings of one sample have medians within this of each other, as a ratio.
const ALIKE: f64 = 2.0;

/// And surely, where they are within this.
const NEAR: f64 = 1.25;

/// Pieces of a sample that are proposed at most.
const PIECES_AT_MOST: usize = 25;

/// So few columns are pieces beside each other, however short they are.
const BESIDE_AT_MOST: usize = 10;

/// The shape as a recipe says it, and why.
pub(super) fn shape(table: &RawTable, columns: &[Class]) -> (Value, ShapeReason) {
    let name = |column: usize| table.header.name(column);
    let numbers: Vec<(usize, &Numbers)> = columns
        .iter()
        .enumerate()
        .filter_map(|(column, class)| match class {
            Class::Numbers(numbers) if !numbers.counts_up => Some((column, numbers)),
            _ => None,
        })
        .collect();
    let has_times = columns.iter().any(|class| matches!(class, Class::Times(_)));
    let Some((first, of_first)) = numbers.first() else {
        return (json!({"kind": "across", "values": ["#1"]}), ShapeReason::NoNumbers);
    };
    if let Some((count, inspected)) = counted(table, &numbers) {
        let shape = json!({"kind": "counts", "count": name(count), "inspected": name(inspected)});
        return (shape, ShapeReason::CountsOfInspected);
    }
    let texts = columns.iter().any(|class| matches!(class, Class::Texts { .. }));
    if !has_times && !texts && numbers.len() > BESIDE_AT_MOST && numbers.len() > table.rows().len() {
        return (json!({"kind": "down", "values": null, "tag": "column"}), ShapeReason::ColumnsLongerThanRows);
    }
    let alike: Vec<usize> = numbers
        .iter()
        .filter(|(_, of)| are_alike(of_first, of))
        .map(|(column, _)| *column)
        .take(PIECES_AT_MOST)
        .collect();
    if let [value] = alike[..] {
        if let (1, Some(by)) = (numbers.len(), agreeing(table, columns, value)) {
            return (json!({"kind": "grouped", "value": name(value), "by": [name(by)]}), ShapeReason::NeighboursAgree);
        }
        let reason = if numbers.len() == 1 { ShapeReason::OneReadingARow } else { ShapeReason::SeveralMeasures };
        return (json!({"kind": "across", "values": [name(*first)]}), reason);
    }
    let values: Vec<String> = alike.into_iter().map(name).collect();
    (json!({"kind": "across", "values": values}), ShapeReason::ReadingsBesideEachOther)
}

fn are_alike(one: &Numbers, other: &Numbers) -> bool {
    let apart = |by: f64| (one.median - other.median).abs() <= (by - 1.0) * one.median.abs().min(other.median.abs());
    let width = (one.most - one.least).max(other.most - other.least);
    // Readings may all happen to be whole in one of the columns.
    apart(NEAR) || one.whole == other.whole && (apart(ALIKE) || (one.median - other.median).abs() <= width)
}

/// A column of counts and the one that says of how many, by its name.
fn counted(table: &RawTable, numbers: &[(usize, &Numbers)]) -> Option<(usize, usize)> {
    const OF: [&str; 5] = ["inspected", "tested", "checked", "units", "sample size"];
    let says = |column: usize| OF.iter().any(|word| table.header.text(column).to_lowercase().contains(word));
    let (inspected, of) = numbers.iter().find(|(column, numbers)| numbers.whole && says(*column))?;
    let (count, _) = numbers.iter().find(|(column, it)| column != inspected && it.whole && it.most <= of.most)?;
    Some((*count, *inspected))
}

/// A column in which neighbours agree: most of its stretches are longer than one row, and none is a whole shift's.
fn agreeing(table: &RawTable, columns: &[Class], value: usize) -> Option<usize> {
    let rows: Vec<usize> = table.rows().take(LOOKED_AT).collect();
    let stretches = |column: usize| -> Vec<usize> {
        let text = |row: &usize| table.grid.cell(*row, column).text();
        rows.chunk_by(|one, next| text(one) == text(next)).map(<[usize]>::len).collect()
    };
    let fits = |column: &usize| {
        let mut stretches = stretches(*column);
        // The last one may be cut off.
        stretches.pop();
        let usual = stretches.first().copied().unwrap_or(0);
        let alike = stretches.iter().filter(|long| **long == usual).count();
        stretches.len() >= 2 && (2..=PIECES_AT_MOST).contains(&usual) && alike * 10 >= stretches.len() * 9
    };
    (0..columns.len()).filter(|column| *column != value && !matches!(columns[*column], Class::Blank)).find(fits)
}

/// The whole recipe.
pub(super) fn recipe(found: &Found, columns: &[Class], shape: Value) -> Value {
    let name = |column: usize| found.table.header.name(column);
    let of_labels = shape["kind"] == json!("down");
    let time = columns.iter().enumerate().find_map(|(column, class)| match class {
        Class::Times(None) if found.is_sheet => Some(json!({"column": name(column)})),
        Class::Times(format) => Some(json!({"column": name(column), "format": format})),
        _ => None,
    });
    let rows = found.table.rows().len().min(LOOKED_AT);
    let tags = columns.iter().enumerate().filter_map(|(column, class)| match class {
        // A remark of its own in each row is no tag.
        Class::Texts { different }
            if *different <= (rows / 2).max(2) && !found.table.header.text(column).is_empty() =>
        {
            Some((found.table.header.text(column).to_lowercase(), json!(name(column))))
        }
        _ => None,
    });
    let mut recipe = json!({"read": found.read, "shape": shape});
    if !of_labels {
        let tags: Map<String, Value> = tags.collect();
        if !tags.is_empty() {
            recipe["tags"] = Value::Object(tags);
        }
        if let Some(time) = time {
            recipe["time"] = time;
        }
    }
    recipe
}
