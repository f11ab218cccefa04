//! How long a million individuals take to judge and to answer, beside one plain pass that sums them,
//! and what one incremental judgement costs. `make bench` reports the ratios.

use std::hint::black_box;

use criterion::{Criterion, criterion_group, criterion_main};
use rand_chacha::ChaCha8Rng;
use rand_chacha::rand_core::SeedableRng;
use rand_distr::{Distribution, StandardNormal};
use spc::chart::{ChartKind, ChartOptions, ChartRequest, Limits, Panel, Watch, compute, signals};
use spc::points::{Point, Readings};
use spc::rules::{Preset, RuleSet};

const POINTS: usize = 1_000_000;

/// The same figures at every run.
fn values(count: usize) -> Vec<f64> {
    let mut random = ChaCha8Rng::seed_from_u64(7);
    (0..count).map(|_| StandardNormal.sample(&mut random)).map(|z: f64| 50.0 + 2.0 * z).collect()
}

fn individuals(values: &[f64]) -> ChartRequest {
    let readings: Readings = values.iter().map(|&x| [x]).collect();
    ChartRequest { rules: Some(RuleSet::Preset(Preset::Nelson)), ..ChartRequest::new(ChartKind::IMr, readings) }
}

fn a_million_points(c: &mut Criterion) {
    let values = values(POINTS);
    let request = individuals(&values);
    let mut group = c.benchmark_group("million");
    group.sample_size(30);
    group.bench_function("sum", |b| b.iter(|| black_box(&values).iter().sum::<f64>()));
    group.bench_function("judging", |b| b.iter(|| signals(black_box(&request)).map(|found| found.len())));
    group.bench_function("answer", |b| b.iter(|| compute(black_box(&request)).map(|answer| answer.signals.len())));
    // Every point of both panels read from the answer, as a screen or a file does.
    group.bench_function("answer read", |b| {
        b.iter(|| {
            compute(black_box(&request)).map(|answer| {
                let z = |panel: &Panel| panel.points().filter_map(|point| point.z.get()).sum::<f64>();
                answer.panels.iter().map(z).sum::<f64>()
            })
        });
    });
    group.finish();
}

fn one_point(c: &mut Criterion) {
    let values = values(10_000);
    let rules = RuleSet::Preset(Preset::Nelson);
    let limits = Limits::given(50.0, 2.0, 3.0);
    let options = ChartOptions::default();
    let watch = || Watch::new(ChartKind::IMr, &limits, Some(&rules), &options);
    let mut group = c.benchmark_group("one point");
    group.bench_function("kept watch", |b| {
        let Ok(mut watch) = watch() else { return };
        let mut next = values.iter().cycle();
        b.iter(|| {
            let mut flags = 0;
            if let Some(x) = next.next() {
                watch.push(Point::Values(std::slice::from_ref(x)), false, |_| flags += 1);
            }
            flags
        });
    });
    // As the server does it: nothing is kept but the figures and the rows of the window.
    let window = &values[..rules.longest_window() + options.span + 1];
    group.bench_function("from its window", |b| {
        b.iter(|| {
            let mut flags = 0;
            if let Ok(mut watch) = watch() {
                for x in black_box(window) {
                    flags = 0;
                    watch.push(Point::Values(std::slice::from_ref(x)), false, |_| flags += 1);
                }
                black_box(watch.newest().collect::<Vec<_>>());
            }
            flags
        });
    });
    group.finish();
}

criterion_group!(benches, a_million_points, one_point);
criterion_main!(benches);
