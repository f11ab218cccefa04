//! Samples on their way: written out as the database copies them, some thousands at a time.

use std::sync::Arc;

use chrono::{DateTime, Utc};
use quality::entry::Tags;
use quality::import::{Entries, ImportEntry};
use quality::shift::Calendar;
use serde_json::json;
use sqlx::encode::IsNull;
use sqlx::postgres::PgArgumentBuffer;
use sqlx::types::Json;
use sqlx::{Encode, PgConnection, Postgres};
use tokio::sync::mpsc;
use uuid::Uuid;

use crate::StoreError;
use crate::judging::{AT_A_TIME, Progress};
use crate::samples::{Columns, columns, said};
use crate::trail::ImportDigest;

/// Why nothing stands where a row of the table holds no reading.
const NO_READING: &str = "no reading in the table";

/// What is copied.
pub(crate) struct Rows {
    pub(super) import: Uuid,
    /// The number of the first.
    pub(super) first: i64,
    pub(super) entries: Arc<dyn Entries>,
    /// Which of them are copied.
    pub(super) is_new: Vec<bool>,
    /// When the first of those was taken.
    pub(super) from: DateTime<Utc>,
    pub(super) calendar: Calendar,
}

/// What all samples of an import have in common.
pub(super) struct Common {
    pub characteristic: Uuid,
    pub device: Uuid,
    pub person: Uuid,
    pub at: DateTime<Utc>,
    /// Pieces made at the station.
    pub pieces_made: i64,
}

/// Where they go.
pub(super) enum Into {
    /// Aside, until they are samples.
    Staged,
    /// They are samples at once.
    Samples(Common),
}

impl Into {
    /// What the database is told to copy.
    fn statement(&self) -> String {
        let (table, common) = match self {
            Into::Staged => ("import_sample", ""),
            Into::Samples(_) => ("sample", ", characteristic_id, device, person_id, arrived_at, pieces_made"),
        };
        format!(
            "copy {table} (id, number, entry, taken_at, readings, inspected, count, defects, tags, event, distance,
                 skipped_because, import_id, source_row, source_digest{common}) from stdin (format binary)"
        )
    }

    /// How many cells a row has, and the last of them, which are the same in each.
    fn common(&self) -> Result<(i16, Vec<u8>), StoreError> {
        let Into::Samples(common) = self else { return Ok((CELLS, vec![])) };
        let mut cells = Cells::default();
        cells.cell(common.characteristic)?;
        cells.cell(common.device)?;
        cells.cell(common.person)?;
        cells.cell(common.at)?;
        cells.cell(common.pieces_made)?;
        Ok((CELLS + 5, std::mem::take(&mut *cells.0)))
    }
}

/// Cells of a row that differ from one to the next.
const CELLS: i16 = 15;

/// Some rows as they are copied, and how many.
type Batch = (Vec<u8>, usize);

impl Rows {
    /// Copies them in, and tells how many there are so far; gives the digest of all, in hex. The next are written out
    /// while the database takes those before.
    pub(super) async fn copy(
        self: &Arc<Self>,
        conn: &mut PgConnection,
        into: Into,
        mut progress: Option<&mut Progress<'_>>,
    ) -> Result<String, StoreError> {
        let statement = into.statement();
        let (send, mut written) = mpsc::channel(1);
        let rows = self.clone();
        let writing = tokio::task::spawn_blocking(move || rows.write(&into, &send));
        // Each batch is a statement: what the database looks up once a statement fits into memory then.
        while let Some((batch, many)) = written.recv().await {
            let mut copy = conn.copy_in_raw(&statement).await?;
            copy.send(batch).await?;
            copy.finish().await?;
            if let Some(progress) = &mut progress {
                progress.told(many).await?;
            }
        }
        writing.await.map_err(|error| StoreError::Corrupt(error.to_string()))?
    }

    /// Writes them out as `copy` reads them.
    fn write(&self, into: &Into, to: &mpsc::Sender<Batch>) -> Result<String, StoreError> {
        let (cells_of_each, common) = into.common()?;
        let mut digest = ImportDigest::default();
        let new = self.entries.each().zip(&self.is_new).filter(|(_, is_new)| **is_new);
        let mut numbered = (self.first..).zip(new.map(|(entry, _)| entry)).peekable();
        while numbered.peek().is_some() {
            let (mut cells, mut many) = (Cells::begun(), 0);
            for (number, entry) in numbered.by_ref().take(AT_A_TIME) {
                let content = match &entry.taken {
                    Some(accepted) => said(&accepted.content, &accepted.tags, &[]),
                    None => json!({"because": NO_READING}),
                };
                digest.take((number, entry.taken_at), entry.entry, &content)?;
                cells.0.extend(cells_of_each.to_be_bytes());
                cells.row((self.import, number), &entry, &self.calendar)?;
                cells.0.extend(&common);
                many += 1;
            }
            if to.blocking_send((cells.ended(), many)).is_err() {
                // Nobody copies them any more.
                break;
            }
        }
        Ok(digest.hex())
    }
}

/// Rows in PostgreSQL's binary format for `copy`: each cell is its length and what it holds.
#[derive(Default)]
struct Cells(PgArgumentBuffer);

impl Cells {
    /// With what comes first: the signature, no flags, and no extension.
    fn begun() -> Self {
        let mut cells = Self::default();
        cells.0.extend(b"PGCOPY\n\xff\r\n\0");
        cells.0.extend([0; 8]);
        cells
    }

    fn ended(mut self) -> Vec<u8> {
        self.0.extend((-1_i16).to_be_bytes());
        std::mem::take(&mut *self.0)
    }

    /// One more; nothing is of length −1.
    fn cell(&mut self, it: impl for<'q> Encode<'q, Postgres>) -> Result<(), StoreError> {
        let at = self.0.len();
        self.0.extend([0; 4]);
        let length = match it.encode_by_ref(&mut self.0).map_err(sqlx::Error::Encode)? {
            IsNull::No => i32::try_from(self.0.len() - at - 4).unwrap_or(i32::MAX),
            IsNull::Yes => -1,
        };
        self.0[at..at + 4].copy_from_slice(&length.to_be_bytes());
        Ok(())
    }

    fn row(
        &mut self,
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
        // In the order of their time: what follows one another lies side by side in the index.
        self.cell(Uuid::now_v7())?;
        self.cell(number)?;
        self.cell(entry.entry)?;
        self.cell(entry.taken_at)?;
        self.cell(columns.readings)?;
        self.cell(columns.inspected)?;
        self.cell(columns.count)?;
        self.cell(columns.defects)?;
        self.cell(Json(tags))?;
        self.cell(columns.event)?;
        self.cell(columns.distance)?;
        self.cell(because)?;
        self.cell(import)?;
        self.cell(entry.row.map(|row| i32::try_from(row).unwrap_or(i32::MAX)))?;
        self.cell(&entry.digest[..])
    }
}
