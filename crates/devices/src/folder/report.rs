//! What became of a table, as it is written beside it.

use chrono::{DateTime, Utc};
use formats::shape::{RefusedCell, WrongRecipe};
use intake::ReadTable;
use quality::device::Reason;
use quality::import::RefusedRow;
use serde::Serialize;
use store::imports::{ImportState, ImportView};
use uuid::Uuid;

use super::table::Table;

/// Refused cells, and rows, that a report lists.
const LISTED: usize = 200;

/// What became of a table.
#[derive(Debug, Serialize)]
pub(super) struct Report {
    pub file: String,
    /// SHA-256, in hex.
    pub digest: String,
    pub at: DateTime<Utc>,
    /// The name of the device.
    pub device: String,
    pub characteristic: Uuid,
    pub into: String,
    /// The list that its rows belong to.
    pub list: String,
    pub recipe: String,
    pub recipe_version: i32,
    /// Rows of data.
    pub rows: usize,
    /// Why it was refused; nothing where it was brought in.
    pub refused: Option<Reason>,
    /// What of the recipe does not fit.
    pub wrong_recipe: Option<WrongRecipe>,
    pub refused_cells: usize,
    pub refused_rows: usize,
    /// The first of them.
    pub cells: Vec<RefusedCell>,
    pub row_refusals: Vec<RefusedRow>,
    /// Samples that were corrected, since their rows say something else.
    pub corrected: usize,
    /// What was made of it, newest first: more than once where the server ended before it was moved.
    pub imports: Vec<Made>,
}

/// An import of it.
#[derive(Debug, Serialize)]
pub(super) struct Made {
    import: Uuid,
    at: DateTime<Utc>,
    state: ImportState,
    stored: i32,
    known: i32,
    changed: i32,
}

impl From<ImportView> for Made {
    fn from(it: ImportView) -> Self {
        let ImportView { id, at, state, stored, known, changed, .. } = it;
        // What its server left before the end is not there.
        let stored = if state == ImportState::Done { stored } else { 0 };
        Self { import: id, at, state, stored, known, changed }
    }
}

impl Report {
    /// Of a table of a device, as a list, before anything is known of it.
    pub fn of(table: &Table<'_>, (device, list): (String, String)) -> Self {
        Self {
            file: table.name.into(),
            digest: table.digest.clone(),
            at: Utc::now(),
            device,
            characteristic: table.setup.id,
            into: table.setup.characteristic.name.clone(),
            list,
            recipe: table.recipe.name.clone(),
            recipe_version: table.recipe.version,
            rows: 0,
            refused: None,
            wrong_recipe: None,
            refused_cells: 0,
            refused_rows: 0,
            cells: vec![],
            row_refusals: vec![],
            corrected: 0,
            imports: vec![],
        }
    }

    /// It is refused.
    pub fn refused(self, reason: Reason) -> Self {
        Self { refused: Some(reason), ..self }
    }

    /// Tells what was read.
    pub fn read(&mut self, table: &ReadTable) {
        self.rows = table.rows;
        (self.refused_cells, self.refused_rows) = (table.cells.len(), table.refused.len());
        self.cells = table.cells.iter().take(LISTED).cloned().collect();
        self.row_refusals = table.refused.iter().take(LISTED).cloned().collect();
    }

    /// Why it cannot be taken whole.
    pub fn first_reason(&self) -> Option<Reason> {
        let reasons = [(self.refused_cells, Reason::Cells), (self.refused_rows, Reason::Rows)];
        reasons.into_iter().find(|(many, _)| *many > 0).map(|(_, reason)| reason)
    }

    /// Samples that are there because of it.
    pub fn stored(&self) -> usize {
        self.imports.iter().filter_map(|made| usize::try_from(made.stored).ok()).sum()
    }
}
