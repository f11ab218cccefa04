//! Samples that a study looks at.

use chrono::{DateTime, Duration, TimeZone, Utc};
use quality::place::Place;
use quality::sample::Plotted;
use quality::study::Picked;
use spc::normal;

/// So many minutes after it began.
pub fn at(minutes: i64) -> DateTime<Utc> {
    Utc.with_ymd_and_hms(2026, 3, 2, 6, 0, 0).unwrap() + Duration::minutes(minutes)
}

/// Samples of these values, one a minute.
pub fn picked(values: impl IntoIterator<Item = Vec<f64>>) -> Vec<Picked> {
    let one = |(i, values): (i64, Vec<f64>)| Picked {
        number: i + 1,
        taken_at: at(i),
        place: Place::of(Plotted::Values(values)),
        group: None,
    };
    (0..).zip(values).map(one).collect()
}

/// Samples of three whose values follow the normal as evenly as values can, shuffled so that no rule is broken.
pub fn steady(samples: usize, mean: f64, sd: f64) -> Vec<Picked> {
    let n = 3 * samples;
    let mut order: Vec<usize> = (0..n).collect();
    let mut state = SHUFFLED;
    for i in (1..n).rev() {
        state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        order.swap(i, (state >> 33) as usize % (i + 1));
    }
    let value = |i: usize| mean + sd * normal::quantile((order[i] as f64 + 0.5) / n as f64);
    picked((0..samples).map(|i| (0..3).map(|j| (value(3 * i + j) * 1000.0).round() / 1000.0).collect()))
}

/// Where the shuffling starts.
const SHUFFLED: u64 = 2;
