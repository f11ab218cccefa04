//! The points of a chart as a table: what was recorded, and how each stands under the lines that hold there.

use std::collections::BTreeSet;

use chrono::SecondsFormat;
use formats::table::{Cell, Table};
use quality::sample::Content;
use store::charts::{ChartPoint, ChartView};

use crate::json::word;

/// One row a sample, in the order of the chart. Readings stand in a column each; so do the value, the lines and the
/// flag of each panel, named by its statistic; so do tags.
pub(crate) fn table(view: &ChartView) -> Table {
    let pieces = view.points.iter().map(|point| readings(point).len()).max().unwrap_or(0);
    let tags: BTreeSet<&String> = view.points.iter().flat_map(|point| point.tags.keys()).collect();
    let counted = view.points.iter().any(|point| matches!(point.content, Some(Content::Counts(_))));
    let events = view.points.iter().any(|point| matches!(point.content, Some(Content::Event(_))));
    let mut columns: Vec<String> = ["sample", "taken_at", "arrived_at", "entered_by"].map(str::to_owned).to_vec();
    columns.extend((1..=pieces).map(|piece| format!("reading_{piece}")));
    columns.extend(view.characteristic.characteristic.components.iter().map(|name| format!("component_{name}")));
    if counted {
        columns.extend(["count", "inspected"].map(str::to_owned));
    }
    if events {
        columns.push("since_the_one_before".into());
    }
    for panel in &view.panels {
        let statistic = word(panel.statistic);
        columns.push(statistic.clone());
        columns.extend(["lower", "center", "upper", "flagged"].map(|of| format!("{statistic}_{of}")));
    }
    columns.extend(["set_aside", "gap"].map(str::to_owned));
    columns.extend(tags.iter().map(|tag| format!("tag_{tag}")));
    let row = |(at, point): (usize, &ChartPoint)| {
        let mut row: Vec<Cell> =
            vec![point.number.into(), point.taken_at.into(), point.arrived_at.into(), point.person.as_str().into()];
        row.extend((0..pieces).map(|piece| Cell::from(readings(point).get(piece).copied().flatten())));
        let components = match &point.content {
            Some(Content::Readings(readings)) => readings.components.as_slice(),
            _ => &[],
        };
        let recorded = view.characteristic.characteristic.components.len();
        row.extend((0..recorded).map(|i| Cell::from(components.get(i).copied().flatten())));
        let counts = match &point.content {
            Some(Content::Counts(counts)) => Some(counts),
            _ => None,
        };
        if counted {
            row.push(counts.map(|counts| i64::from(counts.count())).into());
            row.push(counts.map(|counts| i64::from(counts.inspected)).into());
        }
        if events {
            let between = match &point.content {
                Some(Content::Event(event)) => event.between,
                _ => None,
            };
            row.push(between.into());
        }
        for panel in &view.panels {
            let of = &panel.points[at];
            row.extend([of.value, of.lower, of.center, of.upper].map(|figure| Cell::from(figure.get())));
            row.push(if of.flagged { "flagged".into() } else { Cell::Empty });
        }
        row.push(point.aside.as_ref().map(|said| said.because.as_str()).into());
        row.push(point.gap.as_ref().map(|gap| gap.because.as_str()).into());
        row.extend(tags.iter().map(|tag| Cell::from(point.tags.get(*tag).map(String::as_str))));
        row
    };
    let rows = view.points.iter().enumerate().map(row).collect();
    Table { title: view.characteristic.characteristic.name.clone(), about: about(view), columns, rows }
}

fn readings(point: &ChartPoint) -> &[Option<f64>] {
    match &point.content {
        Some(Content::Readings(readings)) => &readings.values,
        _ => &[],
    }
}

/// What is charted, and under which limits.
fn about(view: &ChartView) -> Vec<(String, String)> {
    let c = &view.characteristic;
    let named = [
        ("characteristic", &c.characteristic.name),
        ("product", &c.product),
        ("station", &c.station),
        ("unit", &c.characteristic.unit),
        ("chart", &word(c.characteristic.chart)),
    ];
    let mut about: Vec<(String, String)> = named.map(|(name, value)| (name.to_owned(), value.clone())).to_vec();
    for phase in &view.phases {
        let since = phase.limits.starts_at.to_rfc3339_opts(SecondsFormat::Secs, true);
        about.push((format!("phase {}", phase.limits.name), format!("{}, since {since}", word(phase.limits.state))));
    }
    about
}
