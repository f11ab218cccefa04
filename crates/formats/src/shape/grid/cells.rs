//! A grid of cells, as it stands in a file: rows as long as they are filled, texts in one buffer.

use chrono::DateTime;

use super::super::cell::Cell;

/// Columns that are read at most.
pub const COLUMNS_AT_MOST: usize = 1_000;

/// Rows of data that are read at most.
pub const ROWS_AT_MOST: usize = 1_000_000;

/// Cells of a file.
#[derive(Debug)]
pub struct Grid {
    text: String,
    cells: Cells,
    /// Where each row's cells begin; one more than there are rows.
    starts: Vec<u32>,
    width: usize,
}

#[derive(Debug)]
enum Cells {
    /// Texts alone: where each ends in the buffer.
    Texts(Vec<u32>),
    Typed(Vec<Typed>),
}

/// What stands in a cell of a sheet or of JSON.
#[derive(Debug, Clone, Copy)]
pub(super) enum Typed {
    Blank,
    /// From where, and how many bytes.
    Text(u32, u32),
    Number(f64),
    /// Seconds since 1970.
    Date(i64),
    Bool(bool),
}

impl Grid {
    /// Rows up to the last that holds anything.
    pub fn height(&self) -> usize {
        self.starts.len() - 1
    }

    /// Columns up to the last that holds anything.
    pub fn width(&self) -> usize {
        self.width
    }

    /// What stands there; nothing beyond what is filled.
    pub(in super::super) fn cell(&self, row: usize, column: usize) -> Cell<'_> {
        let cells = self.row(row);
        match (&self.cells, cells.start + column) {
            (_, at) if at >= cells.end => Cell::Blank,
            (Cells::Texts(ends), at) => {
                Cell::Text(&self.text[at.checked_sub(1).map_or(0, |before| ends[before] as usize)..ends[at] as usize])
            }
            (Cells::Typed(cells), at) => match cells[at] {
                Typed::Blank => Cell::Blank,
                Typed::Text(from, many) => Cell::Text(&self.text[from as usize..(from + many) as usize]),
                Typed::Number(number) => Cell::Number(number),
                Typed::Date(seconds) => {
                    DateTime::from_timestamp(seconds, 0).map_or(Cell::Blank, |at| Cell::Date(at.naive_utc()))
                }
                Typed::Bool(is) => Cell::Bool(is),
            },
        }
    }

    /// Nothing stands in the row.
    pub fn is_blank(&self, row: usize) -> bool {
        // Rows end with what is filled.
        self.row(row).is_empty()
    }

    fn row(&self, row: usize) -> std::ops::Range<usize> {
        self.starts[row] as usize..self.starts[row + 1] as usize
    }
}

/// A grid that is being read, row by row.
pub(super) struct Filling {
    grid: Grid,
}

impl Filling {
    /// Of texts alone, which take a quarter of the room; `bytes` are as many as will come at most.
    pub fn of_texts(bytes: usize) -> Self {
        Self::new(Cells::Texts(Vec::with_capacity(bytes / 8)), String::with_capacity(bytes))
    }

    pub fn of_typed() -> Self {
        Self::new(Cells::Typed(vec![]), String::new())
    }

    fn new(cells: Cells, text: String) -> Self {
        Self { grid: Grid { text, cells, starts: vec![0], width: 0 } }
    }

    pub fn rows(&self) -> usize {
        self.grid.height()
    }

    /// Cells of a row of texts, by where each ends.
    pub fn texts(&mut self, text: &str, ends: &[usize]) {
        let Cells::Texts(all) = &mut self.grid.cells else { return };
        let base = self.grid.text.len();
        let filled = (0..ends.len()).rev().find(|at| {
            let from = at.checked_sub(1).map_or(0, |before| ends[before]);
            !Cell::Text(&text[from..ends[*at]]).is_blank()
        });
        let filled = &ends[..filled.map_or(0, |last| last + 1)];
        self.grid.text.push_str(&text[..filled.last().copied().unwrap_or(0)]);
        all.extend(filled.iter().map(|end| (base + end) as u32));
        self.ends_row();
    }

    pub fn text(&mut self, text: &str) -> Typed {
        if Cell::Text(text).is_blank() {
            return Typed::Blank;
        }
        let from = self.grid.text.len() as u32;
        self.grid.text.push_str(text);
        Typed::Text(from, text.len() as u32)
    }

    /// Cells of a row.
    pub fn typed(&mut self, row: &[Typed]) {
        let Cells::Typed(all) = &mut self.grid.cells else { return };
        let filled = row.iter().rposition(|cell| !matches!(cell, Typed::Blank)).map_or(0, |last| last + 1);
        all.extend_from_slice(&row[..filled]);
        self.ends_row();
    }

    /// What came since the last row is one.
    pub fn ends_row(&mut self) {
        let many = match &self.grid.cells {
            Cells::Texts(ends) => ends.len(),
            Cells::Typed(cells) => cells.len(),
        };
        let before = self.grid.starts.last().copied().unwrap_or(0) as usize;
        self.grid.width = self.grid.width.max(many - before);
        self.grid.starts.push(many as u32);
    }

    /// Blank rows at the end are not there.
    pub fn done(mut self) -> Grid {
        let starts = &mut self.grid.starts;
        while let [.., before, last] = starts[..] {
            if before < last {
                break;
            }
            starts.pop();
        }
        self.grid
    }
}
