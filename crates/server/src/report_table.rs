//! A report as a table: stored words for rules, states and decisions, so that other programs can read them.

use chrono::SecondsFormat;
use formats::table::{Cell, Table};
use quality::episode::patterns_told;
use store::episodes::EpisodeRow;
use store::reports::{EpisodeLine, PointLine, Report, ReportAnswer, ReportHead, ReportLines, ReportNote, ReviewLine};

use crate::json::word;

/// The report as a table. What was said several times stands in one cell, each time on a line of its own.
pub(crate) fn table(report: &Report) -> Table {
    let (columns, rows): (Vec<&'static str>, Vec<Vec<Cell>>) = match &report.lines {
        ReportLines::Episodes(lines) => (
            [
                &OF_EPISODE[..],
                &["answered_by", "cause", "action", "comment", "reviewed_by", "decision", "remark", "signed_by"],
            ]
            .concat(),
            lines.iter().map(episode).collect(),
        ),
        ReportLines::Points(lines) => (
            vec![
                "characteristic",
                "product",
                "station",
                "sample",
                "at",
                "entered_by",
                "readings",
                "unit",
                "count",
                "inspected",
                "rules",
                "actions",
                "remarks",
            ],
            lines.iter().map(point).collect(),
        ),
        ReportLines::Reviews(lines) => (
            [
                &["reviewed_at", "reviewed_by", "decision", "remark", "signed_at", "signed_by", "answered_by"],
                &OF_EPISODE[..],
            ]
            .concat(),
            lines.iter().map(review).collect(),
        ),
    };
    let columns = columns.into_iter().map(str::to_owned).collect();
    Table { title: title(&report.head), about: about(&report.head), columns, rows }
}

fn title(head: &ReportHead) -> String {
    let at = head.at.to_rfc3339_opts(SecondsFormat::Secs, true);
    format!("{}: {}, asked by {} at {at}, seal {}", head.site, word(head.report), head.by, head.digest)
}

/// What was asked for, by whom, when, and the trail's seal.
fn about(head: &ReportHead) -> Vec<(String, String)> {
    let time = |at: chrono::DateTime<chrono::Utc>| at.to_rfc3339_opts(SecondsFormat::Secs, true);
    let all = [
        ("site", Some(head.site.clone())),
        ("report", Some(word(head.report))),
        ("from", Some(time(head.from))),
        ("until", Some(time(head.until))),
        ("area", head.area.clone()),
        ("station", head.station.clone()),
        ("characteristic", head.characteristic.clone()),
        ("analyte", head.analyte.clone()),
        ("asked by", Some(head.by.clone())),
        ("asked at", Some(time(head.at))),
        ("entries of the trail", Some(head.entries.to_string())),
        ("digest of the seal (SHA-256)", Some(head.digest.clone())),
        ("seal", Some(head.seal.clone())),
    ];
    all.into_iter().filter_map(|(name, value)| Some((name.to_owned(), value?))).collect()
}

const OF_EPISODE: [&str; 10] = [
    "episode",
    "characteristic",
    "product",
    "station",
    "state",
    "raised_at",
    "from_sample",
    "to_sample",
    "side",
    "rules",
];

fn of_episode(row: &EpisodeRow) -> Vec<Cell> {
    vec![
        row.id.to_string().into(),
        row.name.as_str().into(),
        row.product.as_str().into(),
        row.station.as_str().into(),
        word(row.state).into(),
        row.raised_at.into(),
        row.from_number.into(),
        row.to_number.into(),
        row.side.map(word).into(),
        patterns_told(&row.patterns).into(),
    ]
}

fn episode(line: &EpisodeLine) -> Vec<Cell> {
    let said = |part: fn(&ReportAnswer) -> &str| joined(line.answers.iter().map(part));
    let mut cells = of_episode(&line.episode);
    cells.extend([
        said(|answer| &answer.person),
        said(|answer| answer.cause.as_deref().unwrap_or("nothing found")),
        said(|answer| &answer.action),
        said(|answer| answer.comment.as_deref().unwrap_or_default()),
        joined(line.reviews.iter().map(|review| review.person.as_str())),
        joined(line.reviews.iter().map(|review| word(review.decision))),
        joined(line.reviews.iter().map(|review| review.remark.as_deref().unwrap_or_default())),
        joined(line.reviews.iter().map(|review| review.signed_by.as_deref().unwrap_or_default())),
    ]);
    cells
}

fn point(line: &PointLine) -> Vec<Cell> {
    let decimals = usize::from(line.decimals.unsigned_abs());
    let reading = |value: &Option<f64>| value.map_or_else(String::new, |value| format!("{value:.decimals$}"));
    let readings: Vec<String> = line.readings.iter().map(reading).collect();
    let notes = |of: &[ReportNote]| joined(of.iter().map(|note| format!("{}: {}", note.person, note.text)));
    vec![
        line.name.as_str().into(),
        line.product.as_str().into(),
        line.station.as_str().into(),
        line.number.into(),
        line.at.into(),
        line.person.as_str().into(),
        (!readings.is_empty()).then(|| readings.join(" ")).into(),
        line.unit.as_str().into(),
        line.count.map(i64::from).into(),
        line.inspected.map(i64::from).into(),
        patterns_told(&line.patterns).into(),
        notes(&line.actions),
        notes(&line.remarks),
    ]
}

fn review(line: &ReviewLine) -> Vec<Cell> {
    let mut cells = vec![
        line.review.at.into(),
        line.review.person.as_str().into(),
        word(line.review.decision).into(),
        line.review.remark.clone().into(),
        line.review.signed_at.into(),
        line.review.signed_by.clone().into(),
        joined(line.answered_by.iter().map(String::as_str)),
    ];
    cells.extend(of_episode(&line.episode));
    cells
}

fn joined<T: AsRef<str>>(parts: impl Iterator<Item = T>) -> Cell {
    let parts: Vec<T> = parts.collect();
    if parts.iter().all(|part| part.as_ref().is_empty()) {
        return Cell::Empty;
    }
    parts.iter().map(T::as_ref).collect::<Vec<_>>().join("\n").into()
}
