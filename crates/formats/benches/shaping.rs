//! A million rows of CSV, read by the csv crate alone and shaped into samples; what counts is the ratio.
#![allow(missing_docs, clippy::unwrap_used)]

use std::fmt::Write as _;
use std::hint::black_box;

use criterion::{Criterion, criterion_group, criterion_main};
use formats::shape::{Recipe, shape};

const ROWS: usize = 1_000_000;

const ACROSS: &str = r#"{"read": {"format": "csv"}, "shape": {"kind": "across", "values": ["x1", "x2", "x3"]},
    "time": {"column": "taken", "format": "%Y-%m-%d %H:%M"}, "tags": {"lot": "lot"}}"#;

const ONE: &str = r#"{"read": {"format": "csv"}, "shape": {"kind": "across", "values": ["x1"]}}"#;

fn table() -> Vec<u8> {
    let mut text = String::from("taken,lot,x1,x2,x3\n");
    for i in 0..ROWS {
        let (day, hour, minute) = (i / 1440 % 28 + 1, i / 60 % 24, i % 60);
        let _ = writeln!(
            text,
            "2026-01-{day:02} {hour:02}:{minute:02},K-{},12.{:03},11.{:03},12.{:03}",
            i / 500,
            i % 997,
            i % 991,
            i % 983
        );
    }
    text.into_bytes()
}

/// Every cell is looked at, as whoever wants it has to.
fn read(table: &[u8]) -> usize {
    let mut reader = csv::ReaderBuilder::new().has_headers(false).from_reader(table);
    let mut row = csv::StringRecord::new();
    let mut bytes = 0;
    while reader.read_record(&mut row).is_ok_and(|more| more) {
        bytes += row.iter().map(str::len).sum::<usize>();
    }
    bytes
}

fn shaping(criterion: &mut Criterion) {
    let table = table();
    let mut group = criterion.benchmark_group("a million rows of CSV");
    group.sample_size(10);
    group.bench_function("the csv crate reads", |bencher| bencher.iter(|| read(black_box(&table))));
    for (name, recipe) in [("five columns shaped", ACROSS), ("one column shaped", ONE)] {
        let recipe = Recipe::from_json(recipe).unwrap();
        group.bench_function(name, |bencher| {
            bencher.iter(|| shape(black_box(&recipe), black_box(&table)).map_or(0, |shaped| shaped.samples.len()));
        });
    }
    group.finish();
}

criterion_group!(benches, shaping);
criterion_main!(benches);
