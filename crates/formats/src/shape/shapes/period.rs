//! A row is a record; a measure is drawn together for each period.

use std::collections::BTreeMap;

use chrono::{Datelike, Days, Duration, Months, NaiveDateTime, NaiveTime, Timelike};

use super::super::drawing::Drawing;
use super::super::grid::ROWS_AT_MOST;
use super::super::recipe::{How, Per};
use super::super::refusals::CellRefusal;
use super::super::wrong::WrongRecipe;

/// Draws a sample a period; `value` is the column that is drawn together, nothing where records are counted.
pub fn period(
    drawing: &mut Drawing<'_>,
    rows: &[u32],
    value: Option<usize>,
    (per, how): (Per, How),
) -> Result<(), WrongRecipe> {
    let periods = records(drawing, rows, value, per);
    let (Some((first, _)), Some((last, _))) = (periods.first_key_value(), periods.last_key_value()) else {
        return Ok(());
    };
    let (mut at, last) = (*first, *last);
    for drawn in 0.. {
        if drawn == ROWS_AT_MOST {
            let allowed = format_args!("at most {ROWS_AT_MOST} periods");
            return Err(WrongRecipe::new("shape.per", "more periods between the first and the last record", allowed));
        }
        draw(drawing, at, periods.get(&at), value, how);
        match next(at, per) {
            Some(next) if at < last => at = next,
            _ => break,
        }
    }
    Ok(())
}

/// Records by the start of their period. One whose time cannot be read is refused alone.
fn records(
    drawing: &mut Drawing<'_>,
    rows: &[u32],
    value: Option<usize>,
    per: Per,
) -> BTreeMap<NaiveDateTime, Vec<u32>> {
    let mut periods: BTreeMap<NaiveDateTime, Vec<u32>> = BTreeMap::new();
    let Some(times) = drawing.times else { return periods };
    let table = drawing.table;
    for row in rows.iter().filter(|row| !table.grid.is_blank(**row as usize)) {
        let code = match times.read(table, *row as usize) {
            Ok(Some(at)) => {
                periods.entry(start(at, per)).or_default().push(*row);
                continue;
            }
            Ok(None) => CellRefusal::NoTime,
            Err(code) => code,
        };
        drawing.refusals.add((*row as usize, times.column), code);
        if let Some(value) = value {
            drawing.reading((*row as usize, value));
        }
    }
    periods
}

fn draw(drawing: &mut Drawing<'_>, at: NaiveDateTime, records: Option<&Vec<u32>>, value: Option<usize>, how: How) {
    drawing.begin();
    let records = records.map_or(&[][..], Vec::as_slice);
    let mut values: Vec<f64> = vec![];
    if let Some(value) = value {
        values.extend(records.iter().filter_map(|row| drawing.reading((*row as usize, value))));
    }
    let measure = match how {
        How::Count => Some(records.len() as f64).filter(|many| *many > 0.0),
        _ => drawn_together(&mut values, how),
    };
    drawing.filled |= measure.is_some();
    drawing.draft.time = Some(at);
    drawing.draft.values.extend(measure);
    // A gap is nobody's record.
    let first = measure.and_then(|_| records.first()).map(|row| *row as usize);
    drawing.end_as_drafted(first);
}

/// Nothing of none.
fn drawn_together(values: &mut [f64], how: How) -> Option<f64> {
    values.sort_by(f64::total_cmp);
    let (first, last) = (*values.first()?, *values.last()?);
    let many = values.len();
    Some(match how {
        How::Count => many as f64,
        How::Sum => sum(values),
        How::Mean => sum(values) / many as f64,
        How::Median => f64::midpoint(values[(many - 1) / 2], values[many / 2]),
        How::Min => first,
        How::Max => last,
    })
}

/// With what each addition loses carried along (Neumaier 1974).
fn sum(values: &[f64]) -> f64 {
    let (mut sum, mut lost) = (0.0f64, 0.0f64);
    for value in values {
        let next = sum + value;
        lost += if sum.abs() >= value.abs() { (sum - next) + value } else { (value - next) + sum };
        sum = next;
    }
    sum + lost
}

fn start(at: NaiveDateTime, per: Per) -> NaiveDateTime {
    let date = at.date();
    let hour = if per == Per::Hour { at.hour() } else { 0 };
    let date = match per {
        Per::Hour | Per::Day => Some(date),
        // The calendar begins with a Monday, so each week has one.
        Per::Week => date.checked_sub_days(Days::new(u64::from(date.weekday().num_days_from_monday()))),
        Per::Month => date.with_day(1),
    };
    date.unwrap_or(at.date()).and_time(NaiveTime::from_hms_opt(hour, 0, 0).unwrap_or_default())
}

fn next(at: NaiveDateTime, per: Per) -> Option<NaiveDateTime> {
    match per {
        Per::Hour => at.checked_add_signed(Duration::hours(1)),
        Per::Day => at.checked_add_days(Days::new(1)),
        Per::Week => at.checked_add_days(Days::new(7)),
        Per::Month => at.checked_add_months(Months::new(1)),
    }
}
