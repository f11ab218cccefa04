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
    /// Texts alone: where each begins and ends in the buffer.
    Texts(Vec<(u32, u32)>),
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
            (Cells::Texts(cells), at) => {
                let (from, to) = cells[at];
                Cell::Text(&self.text[from as usize..to as usize])
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
    /// Of texts alone, which take half of the room; `bytes` are as many as will come at most.
    pub fn of_texts(bytes: usize) -> Self {
        Self::new(Cells::Texts(Vec::with_capacity(bytes / 8)), String::with_capacity(bytes))
    }

    /// A text without quotes: cells stand in it between its delimiters and ends of lines.
    pub fn of_cut_text(text: String, delimiter: u8) -> Self {
        let (mut cells, mut starts, mut width) = (Vec::with_capacity(text.len() / 8), vec![0], 0);
        let (mut from, mut first) = (0, 0);
        let mut ends_row = |cells: &mut Vec<(u32, u32)>, first: &mut usize| {
            without_blank_end(cells, *first, &text);
            width = width.max(cells.len() - *first);
            *first = cells.len();
            starts.push(*first as u32);
        };
        for at in memchr::memchr3_iter(delimiter, b'\r', b'\n', text.as_bytes()) {
            let byte = text.as_bytes()[at];
            // It ended with the first of the two that end a line.
            let ended = byte == b'\n' && at == from && at > 0 && text.as_bytes()[at - 1] == b'\r';
            if !ended {
                cells.push((from as u32, at as u32));
                if byte != delimiter {
                    ends_row(&mut cells, &mut first);
                }
            }
            from = at + 1;
        }
        if from < text.len() || cells.len() > first {
            cells.push((from as u32, text.len() as u32));
            ends_row(&mut cells, &mut first);
        }
        Self { grid: Grid { cells: Cells::Texts(cells), text, starts, width } }
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

    /// Adds a row of texts, by where each ends.
    pub fn texts(&mut self, text: &str, ends: &[usize]) {
        let Cells::Texts(all) = &mut self.grid.cells else { return };
        let (first, base) = (all.len(), self.grid.text.len());
        self.grid.text.push_str(text);
        let mut from = base;
        for end in ends {
            all.push((from as u32, (base + end) as u32));
            from = base + end;
        }
        without_blank_end(all, first, &self.grid.text);
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

/// Cells of a row that are blank at its end are not there.
fn without_blank_end(cells: &mut Vec<(u32, u32)>, first: usize, text: &str) {
    let blank = |(from, to): &(u32, u32)| Cell::Text(&text[*from as usize..*to as usize]).is_blank();
    while cells.len() > first && cells.last().is_some_and(blank) {
        cells.pop();
    }
}
