//! Tables as JSON (RFC 8259): an array with an object a row, the names of the columns as keys, in their order. Nothing is
//! `null`, a moment is written as RFC 3339 in UTC.

use std::io::Write;

use chrono::SecondsFormat;
use serde_json::Value;

use crate::table::{CLOCK, Cell, Table};

/// The table as JSON. What it is about is not part of it.
///
/// # Errors
/// When it cannot be written to memory.
pub fn write(table: &Table) -> serde_json::Result<Vec<u8>> {
    let mut bytes = vec![];
    let mut put = |text: &str| bytes.write_all(text.as_bytes()).map_err(serde_json::Error::io);
    // By hand, since a map would put the keys in an order of its own.
    let names = table.columns.iter().map(serde_json::to_string).collect::<serde_json::Result<Vec<_>>>()?;
    put("[")?;
    for (number, row) in table.rows.iter().enumerate() {
        put(if number == 0 { "\n{" } else { ",\n{" })?;
        for (place, (name, cell)) in names.iter().zip(row).enumerate() {
            let part = if place == 0 { "" } else { "," };
            put(&format!("{part}{name}:{}", value(cell)))?;
        }
        put("}")?;
    }
    put("\n]\n")?;
    Ok(bytes)
}

/// Whether a text in JSON spells U+0000. JSON holds it as an escape alone; an escaped backslash before
/// the digits is none.
pub fn holds_zero(json: &[u8]) -> bool {
    let mut at = 0;
    while let Some(backslash) = json[at..].iter().position(|byte| *byte == b'\\') {
        let escape = &json[at + backslash + 1..];
        if escape.starts_with(b"u0000") {
            return true;
        }
        at = (at + backslash + 2).min(json.len());
    }
    false
}

/// It is the same without a decimal mark.
fn is_whole(number: f64) -> bool {
    number.fract() == 0.0 && number.abs() < 9e15
}

fn value(cell: &Cell) -> Value {
    match cell {
        Cell::Empty => Value::Null,
        Cell::Text(text) => text.as_str().into(),
        Cell::Number(number) if is_whole(*number) => (*number as i64).into(),
        Cell::Number(number) => (*number).into(),
        Cell::Time(at) => at.to_rfc3339_opts(SecondsFormat::Micros, true).into(),
        Cell::Clock(at) => at.format(CLOCK).to_string().into(),
    }
}
