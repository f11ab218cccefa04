//! Samples on their way: copied into a table of their own, since a million of them take a while.

use quality::entry::Tags;
use quality::import::ImportEntry;
use quality::shift::Calendar;
use serde_json::json;
use sqlx::PgConnection;
use uuid::Uuid;

use crate::StoreError;
use crate::samples::{Columns, columns, said};
use crate::trail::ImportDigest;

/// Why nothing stands where a row of the table holds no reading.
const NO_READING: &str = "no reading in the table";

/// Bytes that are sent at once.
const AT_ONCE: usize = 1 << 20;

/// Copies entries in, numbered from `first`.
pub(super) async fn stage(
    conn: &mut PgConnection,
    (import, first): (Uuid, i64),
    entries: impl Iterator<Item = ImportEntry> + Send,
    calendar: &Calendar,
) -> Result<(), StoreError> {
    let mut copy = conn
        .copy_in_raw(
            "copy import_sample (import_id, id, number, entry, taken_at, readings, inspected, count, defects, tags, event,
                 distance, skipped_because, source_row, source_digest) from stdin",
        )
        .await?;
    let (mut lines, mut digest) = (String::new(), ImportDigest::default());
    for (number, entry) in (first..).zip(entries) {
        let content = match &entry.taken {
            Some(accepted) => said(&accepted.content, &accepted.tags, &[]),
            None => json!({"because": NO_READING}),
        };
        digest.take((number, entry.taken_at), entry.entry, &content)?;
        row(&mut lines, (import, number), &entry, calendar)?;
        if lines.len() >= AT_ONCE {
            copy.send(lines.as_bytes()).await?;
            lines.clear();
        }
    }
    copy.send(lines.as_bytes()).await?;
    copy.finish().await?;
    sqlx::query!("update import set samples_digest = $2 where id = $1", import, digest.hex()).execute(conn).await?;
    Ok(())
}

/// A row as `copy` reads it: cells parted by tabs, `\N` for nothing.
fn row(
    lines: &mut String,
    (import, number): (Uuid, i64),
    entry: &ImportEntry,
    calendar: &Calendar,
) -> Result<(), StoreError> {
    let (columns, mut tags, because) = match &entry.taken {
        Some(accepted) => (columns(&accepted.content)?, accepted.tags.clone(), None),
        None => (Columns::default(), Tags::default(), Some(NO_READING)),
    };
    if let Some(turn) = calendar.at(entry.taken_at) {
        tags.insert("shift".into(), turn.name);
    }
    let cell = |it: Option<String>| it.map_or("\\N".to_owned(), |text| escaped(&text));
    let readings = columns.readings.map(|all| {
        let all: Vec<String> = all.iter().map(|x| x.map_or("NULL".to_owned(), |x| x.to_string())).collect();
        format!("{{{}}}", all.join(","))
    });
    let cells = [
        import.to_string(),
        Uuid::new_v4().to_string(),
        number.to_string(),
        entry.entry.to_string(),
        entry.taken_at.to_rfc3339(),
        cell(readings),
        cell(columns.inspected.map(|n| n.to_string())),
        cell(columns.count.map(|n| n.to_string())),
        escaped(&columns.defects.to_string()),
        escaped(&serde_json::to_string(&tags)?),
        columns.event.to_string(),
        cell(columns.distance.map(|x| x.to_string())),
        cell(because.map(str::to_owned)),
        cell(entry.row.map(|row| row.to_string())),
        format!("\\\\x{}", hex(&entry.digest)),
    ];
    lines.push_str(&cells.join("\t"));
    lines.push('\n');
    Ok(())
}

fn escaped(text: &str) -> String {
    let mut escaped = String::with_capacity(text.len());
    for c in text.chars() {
        match c {
            '\\' => escaped.push_str("\\\\"),
            '\t' => escaped.push_str("\\t"),
            '\n' => escaped.push_str("\\n"),
            '\r' => escaped.push_str("\\r"),
            c => escaped.push(c),
        }
    }
    escaped
}

fn hex(bytes: &[u8]) -> String {
    use std::fmt::Write;
    bytes.iter().fold(String::new(), |mut hex, byte| {
        let _ = write!(hex, "{byte:02x}");
        hex
    })
}
