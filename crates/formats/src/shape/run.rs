//! Bytes and a recipe in, samples and refusals out.

use serde::Serialize;

use super::drawing::Drawing;
use super::grid::RawTable;
use super::recipe::{CrossedSample, Inspected, Named, Recipe, Shape};
use super::refusals::RefusedCell;
use super::rows::{Times, kept};
use super::samples::Samples;
use super::shapes;
use super::wrong::WrongRecipe;

/// What comes of a table.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Shaped {
    /// Rows of data that were read.
    pub rows: usize,
    /// Samples that come.
    pub samples: Samples,
    /// Cells that are refused, and with each the sample, or all samples, that it belongs to.
    pub refused: Vec<RefusedCell>,
}

/// Reads a file and draws its samples.
///
/// # Errors
/// What is wrong with the recipe itself, or with the file as a whole.
pub fn shape(recipe: &Recipe, bytes: &[u8]) -> Result<Shaped, WrongRecipe> {
    draw(recipe, &RawTable::open(bytes, &recipe.read)?)
}

/// Draws the samples of a table that is read already.
///
/// # Errors
/// What is wrong with the recipe.
pub fn draw(recipe: &Recipe, table: &RawTable) -> Result<Shaped, WrongRecipe> {
    let times = Times::find(table, recipe)?;
    let rows = kept(table, recipe, times)?;
    let find = |named: &Named| table.header.find(named);
    let find_all = |named: &[Named]| named.iter().map(find).collect::<Result<Vec<_>, _>>();
    let tag_names = |labels: &[&String]| -> Vec<String> {
        labels.iter().map(|label| (*label).clone()).chain(recipe.tags.iter().map(|(tag, _)| tag.clone())).collect()
    };
    let drawing = |labels: &[&String]| Drawing::new(table, recipe, times, Samples::of_readings(tag_names(labels)));
    let (samples, refusals) = match &recipe.shape {
        Shape::Across { values } => {
            let mut drawing = drawing(&[])?;
            shapes::across(&mut drawing, &rows, &find_all(values)?)?;
            drawing.done()
        }
        Shape::Down { values, tag } => {
            let values = match values {
                Some(values) => find_all(values)?,
                None => others(table, recipe, None, |_| true)?,
            };
            let mut drawing = drawing(&tag.iter().collect::<Vec<_>>())?;
            shapes::down(&mut drawing, &rows, &values)?;
            drawing.done()
        }
        Shape::Column { value, size, drops_short } => {
            let mut drawing = drawing(&[])?;
            shapes::column(&mut drawing, &rows, find(value)?, (*size, *drops_short))?;
            drawing.done()
        }
        Shape::Grouped { value, by, gathers_all } => {
            let mut drawing = drawing(&[])?;
            shapes::grouped(&mut drawing, &rows, find(value)?, (&find_all(by)?, *gathers_all))?;
            drawing.done()
        }
        Shape::Crossed { rows: labels, values, row_tag, column_tag, sample } => {
            let mut values = match values {
                Some(values) => find_all(values)?,
                None => others(table, recipe, Some(labels), |column| !table.header.text(column).is_empty())?,
            };
            // As they stand in the sheet.
            values.sort_unstable();
            let labels = shapes::Labels { rows: find(labels)?, values };
            let names: &[&String] = match sample {
                CrossedSample::Cell => &[row_tag, column_tag],
                CrossedSample::Row => &[row_tag],
                CrossedSample::Column => &[column_tag],
            };
            let mut drawing = drawing(names)?;
            match sample {
                CrossedSample::Cell => shapes::cells(&mut drawing, &rows, &labels)?,
                CrossedSample::Row => shapes::rows(&mut drawing, &rows, &labels)?,
                CrossedSample::Column => shapes::of_columns(&mut drawing, &rows, &labels.values)?,
            }
            drawing.done()
        }
        Shape::Counts { count, kinds, inspected } => {
            let columns = match count {
                Some(count) => vec![find(count)?],
                None => kinds.iter().map(|(_, column)| find(column)).collect::<Result<_, _>>()?,
            };
            let inspected = match inspected {
                None => shapes::Of::Nothing,
                Some(Inspected::Number(many)) => shapes::Of::Always(*many as f64),
                Some(Inspected::Column(column)) => shapes::Of::Column(find(column)?),
            };
            let counted = shapes::Counted { columns: &columns, by_kind: count.is_none(), inspected };
            let kinds = kinds.iter().map(|(kind, _)| kind.clone()).collect();
            let mut drawing = Drawing::new(table, recipe, times, Samples::of_counts(tag_names(&[]), kinds))?;
            shapes::counts(&mut drawing, &rows, &counted)?;
            drawing.done()
        }
        Shape::Period { value, per, how } => {
            let mut drawing = drawing(&[])?;
            let value = value.as_ref().map(find).transpose()?;
            shapes::period(&mut drawing, &rows, value, (*per, *how))?;
            drawing.done()
        }
    };
    Ok(Shaped { rows: table.rows().len(), samples, refused: refusals.done(table) })
}

/// Columns that stand nowhere else in the recipe.
fn others(
    table: &RawTable,
    recipe: &Recipe,
    label: Option<&Named>,
    fits: impl Fn(usize) -> bool,
) -> Result<Vec<usize>, WrongRecipe> {
    let times = recipe.time.iter().map(|time| &time.column);
    let tags = recipe.tags.iter().map(|(_, column)| column);
    let filters = recipe.filter.iter().map(|filter| &filter.column);
    let used = label.into_iter().chain(times).chain(tags).chain(filters);
    let used = used.map(|named| table.header.find(named)).collect::<Result<Vec<_>, _>>()?;
    Ok((0..table.header.width()).filter(|column| !used.contains(column) && fits(*column)).collect())
}
