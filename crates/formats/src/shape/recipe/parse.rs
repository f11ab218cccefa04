//! Reads a recipe, field by field, so that what is wrong is named by its path.

use serde_json::Value;

use super::super::cell::trim;
use super::super::fields::{Field, Fields};
use super::super::time_format::TimeFormat;
use super::super::wrong::WrongRecipe;
use super::model::{CrossedSample, Format, Named, Read, Recipe, Shape, TimeColumn, Where};
use super::parse_shape::{A_COLUMN, named, shape};

/// Rows that a recipe skips at most.
const SKIPPED_AT_MOST: u64 = 1_000_000;

impl Recipe {
    /// Reads a recipe.
    ///
    /// # Errors
    /// The first field that cannot be as it is given, by its path.
    pub fn from_json(text: &str) -> Result<Self, WrongRecipe> {
        let value: Value = serde_json::from_str(text).map_err(|error| WrongRecipe::new("recipe", error, "JSON"))?;
        Self::of(value)
    }

    fn of(value: Value) -> Result<Self, WrongRecipe> {
        let mut fields = Fields::of("", value)?;
        let read = read(fields.take("read"))?;
        let shape = shape(fields.take("shape"))?;
        let sheet = matches!(read.format, Format::Xlsx | Format::Ods);
        let time = time(fields.take("time"), sheet)?;
        let tags = tags(fields.take("tags"))?;
        let filter = filter(fields.take("where"))?;
        let by_time = fields.take("order").word(&[("given", false), ("time", true)])?;
        let skips_blank = fields.take("blank_rows").word(&[("gap", false), ("skip", true)])?;
        fields.done()?;
        let of_labels = matches!(shape, Shape::Down { .. } | Shape::Crossed { sample: CrossedSample::Column, .. });
        if of_labels && !tags.is_empty() {
            return Err(WrongRecipe::new("tags", "columns", "nothing: a column is a sample, its label its tag"));
        }
        if of_labels && time.is_some() {
            return Err(WrongRecipe::new("time", "a column", "nothing: a column is a sample"));
        }
        if time.is_none() && (by_time || matches!(shape, Shape::Period { .. })) {
            return Err(WrongRecipe::new("time", "nothing", "the column of the times"));
        }
        Ok(Self { read, shape, time, tags, filter, by_time, skips_blank })
    }
}

fn read(field: Field) -> Result<Read, WrongRecipe> {
    let mut of = match field.value {
        Some(value) => Fields::of(&field.path, value)?,
        None => return Err(WrongRecipe::new(field.path, "nothing", "how the file is read")),
    };
    let format = of.take("format");
    if format.value.is_none() {
        return Err(WrongRecipe::new(format.path, "nothing", "csv, xlsx, ods or json"));
    }
    let format =
        format.word(&[("csv", Format::Csv), ("xlsx", Format::Xlsx), ("ods", Format::Ods), ("json", Format::Json)])?;
    let fits = |field: Field, fits: bool, allowed: &str| match (field.value, fits) {
        (Some(value), false) => Err(WrongRecipe::new(field.path, value, allowed.to_owned())),
        (value, _) => Ok(Field { path: field.path, value }),
    };
    let is_sheet = matches!(format, Format::Xlsx | Format::Ods);
    let delimiter = fits(of.take("delimiter"), format == Format::Csv, "nothing: it is for csv alone")?;
    let path = delimiter.path.clone();
    let delimiter = match delimiter.text()? {
        None => ',',
        Some(text) => match text.chars().collect::<Vec<_>>()[..] {
            [one] if !matches!(one, '"' | '\r' | '\n') => one,
            _ => return Err(WrongRecipe::new(path, text, "one character, neither a quote nor the end of a line")),
        },
    };
    let decimal_comma = of.take("decimal").word(&[(".", false), (",", true)])?;
    let of_rows = "nothing: it is not for json";
    let skip_rows = fits(of.take("skip_rows"), format != Format::Json, of_rows)?.whole(0, SKIPPED_AT_MOST)?;
    let header_rows = fits(of.take("header_rows"), format != Format::Json, of_rows)?.whole(0, 2)?;
    let sheet = fits(of.take("sheet"), is_sheet, "nothing: it is for sheets alone")?.text()?;
    of.done()?;
    let rows = |rows: Option<u64>, usual: usize| rows.map_or(usual, |rows| usize::try_from(rows).unwrap_or(usual));
    Ok(Read {
        format,
        delimiter,
        decimal_comma,
        skip_rows: rows(skip_rows, 0),
        header_rows: rows(header_rows, 1),
        sheet,
    })
}

fn time(field: Field, sheet: bool) -> Result<Option<TimeColumn>, WrongRecipe> {
    let Some(mut of) = field.object()? else { return Ok(None) };
    let column = named(of.take("column"), A_COLUMN)?;
    let format = of.take("format");
    let path = format.path.clone();
    let format = match format.text()? {
        Some(text) => Some(TimeFormat::new(&text).map_err(|allowed| WrongRecipe::new(path, &text, allowed))?),
        None if sheet => None,
        None => return Err(WrongRecipe::new(path, "nothing", "how the times are written, such as %Y-%m-%d %H:%M")),
    };
    of.done()?;
    Ok(Some(TimeColumn { column, format }))
}

fn tags(field: Field) -> Result<Vec<(String, Named)>, WrongRecipe> {
    let Some(of) = field.object()? else { return Ok(vec![]) };
    of.rest().into_iter().map(|(tag, field)| Ok((tag, named(field, A_COLUMN)?))).collect()
}

fn filter(field: Field) -> Result<Vec<Where>, WrongRecipe> {
    let Some(value) = field.value else { return Ok(vec![]) };
    let Value::Array(all) = value else { return Err(WrongRecipe::new(field.path, value, "a list")) };
    let one = |(i, value): (usize, Value)| {
        let mut of = Fields::of(&format!("{}[{i}]", field.path), value)?;
        let column = named(of.take("column"), A_COLUMN)?;
        let is = of.take("is");
        let path = is.path.clone();
        let is = is.texts()?.ok_or_else(|| WrongRecipe::new(path, "nothing", "a list of texts"))?;
        of.done()?;
        Ok(Where { column, is: is.into_iter().map(|(_, text)| trim(&text).to_owned()).collect() })
    };
    all.into_iter().enumerate().map(one).collect()
}
