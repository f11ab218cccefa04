//! Samples on their way: copied into a table of their own, since a million of them take a while.

use std::fmt::{Display, Write};
use std::sync::Arc;

use quality::entry::Tags;
use quality::import::{Entries, ImportEntry};
use quality::shift::Calendar;
use serde_json::json;
use sqlx::PgConnection;
use tokio::sync::mpsc;
use uuid::Uuid;

use super::abandoned::copying;
use crate::StoreError;
use crate::samples::{Columns, columns, said};
use crate::trail::ImportDigest;

/// Why nothing stands where a row of the table holds no reading.
const NO_READING: &str = "no reading in the table";

/// Bytes that are sent at once.
const AT_ONCE: usize = 1 << 20;

/// What is copied, and where to.
pub(super) struct Rows {
    pub import: Uuid,
    /// The number of the first.
    pub first: i64,
    pub entries: Arc<dyn Entries>,
    /// Which of them are copied.
    pub is_new: Vec<bool>,
    pub calendar: Calendar,
}

/// Copies them in. The next are written out while the database takes those before.
pub(super) async fn stage(conn: &mut PgConnection, rows: Rows) -> Result<(), StoreError> {
    let import = rows.import;
    copying(&mut *conn, import).await?;
    let (send, mut written) = mpsc::channel(2);
    let writing = tokio::task::spawn_blocking(move || rows.write(&send));
    let mut copy = conn
        .copy_in_raw(
            "copy import_sample (import_id, id, number, entry, taken_at, readings, inspected, count, defects, tags, event,
                 distance, skipped_because, source_row, source_digest) from stdin",
        )
        .await?;
    while let Some(lines) = written.recv().await {
        copy.send(lines).await?;
    }
    let digest = match writing.await.map_err(|error| StoreError::Corrupt(error.to_string())).flatten() {
        Ok(digest) => digest,
        Err(error) => {
            copy.abort("not all could be written").await?;
            return Err(error);
        }
    };
    copy.finish().await?;
    sqlx::query!("update import set samples_digest = $2 where id = $1", import, digest.hex()).execute(conn).await?;
    Ok(())
}

impl Rows {
    /// Writes them out as `copy` reads them; gives the digest of all.
    fn write(&self, to: &mpsc::Sender<Vec<u8>>) -> Result<ImportDigest, StoreError> {
        let (mut lines, mut digest) = (String::with_capacity(AT_ONCE + AT_ONCE / 8), ImportDigest::default());
        let new = self.entries.each().zip(&self.is_new).filter(|(_, is_new)| **is_new);
        for (number, (entry, _)) in (self.first..).zip(new) {
            let content = match &entry.taken {
                Some(accepted) => said(&accepted.content, &accepted.tags, &[]),
                None => json!({"because": NO_READING}),
            };
            digest.take((number, entry.taken_at), entry.entry, &content)?;
            row(&mut lines, (self.import, number), &entry, &self.calendar)?;
            if lines.len() >= AT_ONCE {
                let next = String::with_capacity(lines.capacity());
                if to.blocking_send(std::mem::replace(&mut lines, next).into_bytes()).is_err() {
                    // Nobody copies them any more.
                    return Ok(digest);
                }
            }
        }
        let _ = to.blocking_send(lines.into_bytes());
        Ok(digest)
    }
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
    fn cell(lines: &mut String, it: Option<impl Display>) {
        match it {
            // Writing into a string cannot fail.
            Some(it) => _ = write!(lines, "{it}\t"),
            None => lines.push_str("\\N\t"),
        }
    }
    cell(lines, Some(import));
    // In the order of their time: what follows one another lies side by side in the index.
    cell(lines, Some(Uuid::now_v7()));
    cell(lines, Some(number));
    cell(lines, Some(entry.entry));
    cell(lines, Some(entry.taken_at.to_rfc3339()));
    cell(
        lines,
        columns.readings.map(|all| {
            let all: Vec<String> = all.iter().map(|x| x.map_or("NULL".to_owned(), |x| x.to_string())).collect();
            format!("{{{}}}", all.join(","))
        }),
    );
    cell(lines, columns.inspected);
    cell(lines, columns.count);
    cell(lines, Some(escaped(&columns.defects.to_string())));
    cell(lines, Some(escaped(&serde_json::to_string(&tags)?)));
    cell(lines, Some(columns.event));
    cell(lines, columns.distance);
    cell(lines, because);
    cell(lines, entry.row);
    lines.push_str("\\\\x");
    entry.digest.iter().for_each(|byte| _ = write!(lines, "{byte:02x}"));
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
