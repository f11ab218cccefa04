//! Reads what stands where.

use serde_json::Value;

use super::super::fields::{Field, Fields};
use super::super::wrong::WrongRecipe;
use super::model::{CrossedSample, How, Inspected, Named, Per, READINGS_AT_MOST, Shape};

pub(super) fn named(field: Field, allowed: &str) -> Result<Named, WrongRecipe> {
    let path = field.path.clone();
    Ok(Named { path, name: field.needed_text(allowed)? })
}

fn columns(field: Field) -> Result<Option<Vec<Named>>, WrongRecipe> {
    let named = |all: Vec<(String, String)>| all.into_iter().map(|(path, name)| Named { path, name }).collect();
    Ok(field.texts()?.map(named))
}

fn needed_columns(field: Field) -> Result<Vec<Named>, WrongRecipe> {
    let path = field.path.clone();
    columns(field)?.ok_or_else(|| WrongRecipe::new(path, "nothing", "a list of columns"))
}

pub(super) const A_COLUMN: &str = "a column";

pub(super) fn shape(field: Field) -> Result<Shape, WrongRecipe> {
    let (path, value) = field.needed("what stands where")?;
    let mut of = Fields::of(&path, value)?;
    let kind = of.take("kind");
    let kind_path = kind.path.clone();
    let kind = kind.needed_text("the shape of the table")?;
    let shape = match kind.as_str() {
        "across" => {
            let values = of.take("values");
            let path = values.path.clone();
            let values = needed_columns(values)?;
            if values.len() > READINGS_AT_MOST {
                return Err(WrongRecipe::new(path, values.len(), format!("at most {READINGS_AT_MOST} readings")));
            }
            Shape::Across { values }
        }
        "down" => Shape::Down { values: columns(of.take("values"))?, tag: of.take("tag").text()? },
        "column" => {
            let value = named(of.take("value"), A_COLUMN)?;
            let size = of.take("size");
            let size_path = size.path.clone();
            let size = size.whole(1, READINGS_AT_MOST as u64)?;
            let size = size.ok_or_else(|| WrongRecipe::new(size_path, "nothing", "readings of a sample, from 1"))?;
            let drops_short = of.take("last_short").word(&[("keep", false), ("drop", true)])?;
            Shape::Column { value, size: usize::try_from(size).unwrap_or(1), drops_short }
        }
        "grouped" => Shape::Grouped {
            value: named(of.take("value"), A_COLUMN)?,
            by: needed_columns(of.take("by"))?,
            gathers_all: of.take("gather").word(&[("neighbours", false), ("all", true)])?,
        },
        "crossed" => {
            let sample = of.take("sample");
            if sample.value.is_none() {
                return Err(WrongRecipe::new(sample.path, "nothing", "cell, row or column"));
            }
            Shape::Crossed {
                rows: named(of.take("rows"), A_COLUMN)?,
                values: columns(of.take("values"))?,
                row_tag: of.take("row_tag").needed_text("the name of a tag")?,
                column_tag: of.take("column_tag").needed_text("the name of a tag")?,
                sample: sample.word(&[
                    ("cell", CrossedSample::Cell),
                    ("row", CrossedSample::Row),
                    ("column", CrossedSample::Column),
                ])?,
            }
        }
        "counts" => counts(&mut of)?,
        "period" => period(&mut of)?,
        _ => {
            let allowed = "across, down, column, grouped, crossed, counts or period";
            return Err(WrongRecipe::new(kind_path, kind, allowed));
        }
    };
    of.done()?;
    Ok(shape)
}

fn counts(of: &mut Fields) -> Result<Shape, WrongRecipe> {
    let (count, kinds) = (of.take("count"), of.take("kinds"));
    if count.value.is_some() && kinds.value.is_some() {
        return Err(WrongRecipe::new(kinds.path, "kinds beside count", "one of the two"));
    }
    if count.value.is_none() && kinds.value.is_none() {
        return Err(WrongRecipe::new(count.path, "nothing", "the column of the counts, or kinds"));
    }
    let kinds_path = kinds.path.clone();
    let kinds = match kinds.object()? {
        None => vec![],
        Some(kinds) => {
            let each = kinds.rest().into_iter().map(|(kind, field)| Ok((kind, named(field, A_COLUMN)?)));
            let kinds = each.collect::<Result<Vec<_>, WrongRecipe>>()?;
            if kinds.is_empty() {
                return Err(WrongRecipe::new(kinds_path, "nothing", "kinds, each with its column"));
            }
            kinds
        }
    };
    let count = count.value.is_some().then(|| named(count, A_COLUMN)).transpose()?;
    let inspected = of.take("inspected");
    let inspected = match inspected.value {
        None => None,
        Some(Value::String(name)) => Some(Inspected::Column(Named { path: inspected.path, name })),
        Some(value) => match value.as_f64().filter(|n| *n > 0.0 && n.fract() == 0.0 && *n <= 1e15) {
            Some(n) => Some(Inspected::Number(n as u64)),
            None => return Err(WrongRecipe::new(inspected.path, value, "a column, or a whole number above 0")),
        },
    };
    Ok(Shape::Counts { count, kinds, inspected })
}

fn period(of: &mut Fields) -> Result<Shape, WrongRecipe> {
    let (per, how) = (of.take("per"), of.take("how"));
    if per.value.is_none() {
        return Err(WrongRecipe::new(per.path, "nothing", "hour, day, week or month"));
    }
    let per = per.word(&[("hour", Per::Hour), ("day", Per::Day), ("week", Per::Week), ("month", Per::Month)])?;
    if how.value.is_none() {
        return Err(WrongRecipe::new(how.path, "nothing", "sum, mean, median, min, max or count"));
    }
    let how = how.word(&[
        ("sum", How::Sum),
        ("mean", How::Mean),
        ("median", How::Median),
        ("min", How::Min),
        ("max", How::Max),
        ("count", How::Count),
    ])?;
    let value = of.take("value");
    let value = match (how, value.value.is_some()) {
        (How::Count, false) => None,
        (How::Count, true) => return Err(WrongRecipe::new(value.path, "a column", "nothing: rows are counted")),
        _ => Some(named(value, A_COLUMN)?),
    };
    Ok(Shape::Period { value, per, how })
}
