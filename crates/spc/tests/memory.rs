//! What a long chart takes, counted by the allocator. A program of its own, since all of it is counted.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

use allocation_counter::measure;
use spc::chart::{ChartKind, ChartOptions, ChartRequest, Limits, Watch, compute};
use spc::points::{Point, Readings};
use spc::rules::{Preset, RuleSet};

/// A sawtooth that breaks no rule, so that no signal takes memory.
fn value(i: usize) -> f64 {
    [0.3, -0.4, 0.9, -1.2, -0.2, 1.4, 0.1, -0.6, -0.3, 1.1, 0.7][i % 11]
}

fn request(points: usize) -> ChartRequest {
    let readings: Readings = (0..points).map(|i| [value(i)]).collect();
    ChartRequest { rules: Some(RuleSet::Preset(Preset::Nelson)), ..ChartRequest::new(ChartKind::IMr, readings) }
}

#[test]
fn memory_grows_with_the_answer() {
    let points = 1_000_000;
    let taken = measure(|| {
        let answer = compute(&request(points)).unwrap();
        assert_eq!(answer.panels[0].len(), points);
    });
    let per_point = taken.bytes_max as f64 / points as f64;
    assert!(per_point <= 200.0, "{per_point} bytes a point");
    println!("{per_point:.1} bytes a point, request and answer together");
}

#[test]
fn judging_a_point_allocates_nothing() {
    let limits = Limits::given(0.0, 1.0, 3.0);
    let rules = RuleSet::Preset(Preset::Nelson);
    let mut watch = Watch::new(ChartKind::IMr, &limits, Some(&rules), &ChartOptions::default()).unwrap();
    let mut flags = 0;
    let taken = measure(|| {
        for i in 0..10_000 {
            // Every hundredth point is beyond its limits: flags allocate nothing either.
            let x = if i % 100 == 0 { 9.0 } else { value(i) };
            watch.push(Point::Values(&[x]), false, |_| flags += 1);
        }
    });
    assert_eq!(taken.count_total, 0);
    assert!(flags >= 100);
}
