//! The shapes.

use thiserror::Error;

use super::outgoing::{OutSample, Outgoing, Recorded};
use crate::table::{Cell, Table};

/// A shape of a table.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Layout {
    /// A row is a sample, its readings stand in several columns.
    Across,
    /// A column is a sample, its readings stand below each other.
    Down,
    /// A row is a reading; tags stand beside each.
    Grouped,
    /// Values of one tag below each other, of another beside each other, something of the samples that have both in
    /// each cell.
    Crossed {
        /// The tag of the rows.
        rows: String,
        /// The tag of the columns.
        columns: String,
        /// What stands in a cell.
        cell: CellOf,
    },
}

/// What of several samples stands in a cell: of all readings, or of what each counted.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum CellOf {
    /// The mean.
    Mean,
    /// The smallest.
    Smallest,
    /// The largest.
    Largest,
    /// How many samples recorded something.
    Samples,
}

/// Samples beside each other at most.
pub const COLUMNS_OF_SAMPLES_AT_MOST: usize = 1_000;

/// Why samples do not go into a shape.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Error)]
pub enum WrongLayout {
    /// Things that are counted have no readings to stand below each other.
    #[error("only readings go into this shape")]
    OnlyReadings,
    /// More columns than a table can have.
    #[error("{given} columns, at most {most}")]
    TooManyColumns {
        /// So many there would be.
        given: usize,
        /// So many there may be.
        most: usize,
    },
}

/// Names of columns that every table of samples has.
pub(super) const OF: &str = "characteristic";
pub(super) const SAMPLE: &str = "sample";
pub(super) const TAKEN_AT: &str = "taken_at";
pub(super) const READING: &str = "reading";
pub(super) const COUNT: &str = "count";
pub(super) const INSPECTED: &str = "inspected";

pub(super) fn reading(piece: usize) -> String {
    format!("{READING}_{piece}")
}

pub(super) fn kind(name: &str) -> String {
    format!("kind_{name}")
}

pub(super) fn tag(name: &str) -> String {
    format!("tag_{name}")
}

/// Lays samples out.
///
/// # Errors
/// When they do not go into the shape.
pub fn lay(out: &Outgoing, layout: &Layout) -> Result<Table, WrongLayout> {
    let (columns, rows) = match layout {
        Layout::Across => across(out),
        Layout::Grouped => grouped(out)?,
        Layout::Down => down(out)?,
        Layout::Crossed { rows, columns, cell } => crossed(out, (rows, columns), *cell)?,
    };
    Ok(Table { title: out.title.clone(), about: out.about.clone(), columns, rows })
}

type Laid = (Vec<String>, Vec<Vec<Cell>>);

/// Who, which, when.
fn head(out: &Outgoing) -> Vec<String> {
    let of = out.of_several().then_some(OF);
    of.into_iter().chain([SAMPLE, TAKEN_AT]).map(str::to_owned).collect()
}

fn head_of(out: &Outgoing, sample: &OutSample) -> Vec<Cell> {
    let of = out.of_several().then(|| Cell::from(sample.of.as_deref()));
    of.into_iter().chain([sample.number.into(), Cell::Clock(sample.taken_at)]).collect()
}

/// What stands behind the readings.
fn tail(out: &Outgoing) -> impl Iterator<Item = String> {
    out.tags().into_iter().map(tag).chain(out.beside.iter().cloned())
}

fn tail_of<'a>(tags: &'a [&str], sample: &'a OutSample) -> impl Iterator<Item = Cell> + 'a {
    let tag = |name: &&str| Cell::from(sample.tags.get(*name).map(String::as_str));
    tags.iter().map(tag).chain(sample.beside.iter().cloned())
}

fn across(out: &Outgoing) -> Laid {
    let (pieces, counts, kinds, tags) = (out.pieces(), out.counts(), out.kinds(), out.tags());
    let mut columns = head(out);
    columns.extend((1..=pieces).map(reading));
    if counts {
        columns.extend([INSPECTED, COUNT].map(str::to_owned));
    }
    columns.extend(kinds.iter().map(|name| kind(name)));
    columns.extend(tail(out));
    let row = |sample: &OutSample| {
        let mut row = head_of(out, sample);
        row.extend((0..pieces).map(|piece| Cell::from(sample.readings().get(piece).copied().flatten())));
        let counted = match &sample.recorded {
            Recorded::Counts { inspected, kinds } => Some((*inspected, kinds)),
            Recorded::Readings(_) | Recorded::Nothing => None,
        };
        if counts {
            row.extend([Cell::from(counted.map(|(inspected, _)| inspected)), sample.count().into()]);
        }
        row.extend(kinds.iter().map(|name| {
            let found = |all: &Vec<(String, f64)>| all.iter().find(|(kind, _)| kind == name).map_or(0.0, |(_, n)| *n);
            Cell::from(counted.map(|(_, all)| found(all)))
        }));
        row.extend(tail_of(&tags, sample));
        row
    };
    (columns, out.samples.iter().map(row).collect())
}

fn grouped(out: &Outgoing) -> Result<Laid, WrongLayout> {
    if out.counts() {
        return Err(WrongLayout::OnlyReadings);
    }
    let tags = out.tags();
    let mut columns = head(out);
    columns.extend(["piece", READING].map(str::to_owned));
    columns.extend(tail(out));
    let rows = out.samples.iter().flat_map(|sample| {
        // A gap has its row too.
        let readings = if sample.readings().is_empty() { &[None] } else { sample.readings() };
        let row = |(piece, reading): (i64, &Option<f64>)| {
            let mut row = head_of(out, sample);
            row.extend([Cell::from(piece), (*reading).into()]);
            row.extend(tail_of(&tags, sample));
            row
        };
        (1..).zip(readings).map(row).collect::<Vec<_>>()
    });
    Ok((columns, rows.collect()))
}

fn down(out: &Outgoing) -> Result<Laid, WrongLayout> {
    if out.counts() {
        return Err(WrongLayout::OnlyReadings);
    }
    few(out.samples.len())?;
    let several = out.of_several();
    let name = |sample: &OutSample| match &sample.of {
        Some(of) if several => format!("{of} {}", sample.number),
        _ => sample.number.to_string(),
    };
    let row = |piece: usize| {
        out.samples.iter().map(|sample| Cell::from(sample.readings().get(piece).copied().flatten())).collect()
    };
    Ok((out.samples.iter().map(name).collect(), (0..out.pieces()).map(row).collect()))
}

fn few(columns: usize) -> Result<(), WrongLayout> {
    let most = COLUMNS_OF_SAMPLES_AT_MOST;
    if columns > most { Err(WrongLayout::TooManyColumns { given: columns, most }) } else { Ok(()) }
}

fn crossed(out: &Outgoing, (by, beside): (&str, &str), cell: CellOf) -> Result<Laid, WrongLayout> {
    let both = |sample: &'_ OutSample| Some((sample.tags.get(by)?.clone(), sample.tags.get(beside)?.clone()));
    let with: Vec<(String, String, &OutSample)> =
        out.samples.iter().filter_map(|sample| both(sample).map(|(row, column)| (row, column, sample))).collect();
    // In the order of their first samples.
    let mut rows: Vec<&str> = vec![];
    let mut columns: Vec<&str> = vec![];
    for (row, column, _) in &with {
        if !rows.contains(&row.as_str()) {
            rows.push(row);
        }
        if !columns.contains(&column.as_str()) {
            columns.push(column);
        }
        few(columns.len())?;
    }
    let at = |row: &str, column: &str| {
        let here = with.iter().filter(|(r, c, _)| r == row && c == column).map(|(.., sample)| *sample);
        drawn_together(here, cell)
    };
    let line = |row: &&str| {
        std::iter::once(Cell::from(*row)).chain(columns.iter().map(|column| at(row, column))).collect::<Vec<_>>()
    };
    let names = std::iter::once(by.to_owned()).chain(columns.iter().map(|name| (*name).to_owned()));
    Ok((names.collect(), rows.iter().map(line).collect()))
}

fn drawn_together<'a>(samples: impl Iterator<Item = &'a OutSample>, cell: CellOf) -> Cell {
    let (mut values, mut many) = (vec![], 0_i64);
    for sample in samples.filter(|sample| sample.recorded != Recorded::Nothing) {
        many += 1;
        values.extend(sample.readings().iter().flatten().copied().chain(sample.count()));
    }
    if many == 0 {
        return Cell::Empty;
    }
    match cell {
        CellOf::Samples => many.into(),
        CellOf::Mean if values.is_empty() => Cell::Empty,
        CellOf::Mean => (values.iter().sum::<f64>() / values.len() as f64).into(),
        CellOf::Smallest => values.into_iter().reduce(f64::min).into(),
        CellOf::Largest => values.into_iter().reduce(f64::max).into(),
    }
}
