//! Nanoseconds that the constants of n = 2…25 take together in a process that has computed none.
//! Criterion cannot measure this: it warms up.

use std::time::Instant;

use spc::constants::{c4, median_error, range_constants};

fn main() {
    let start = Instant::now();
    let sum: f64 = (2..=25)
        .filter_map(|n| Some(range_constants(n)?.d2 + range_constants(n)?.d3 + c4(n)? + median_error(n)?))
        .sum();
    let nanoseconds = start.elapsed().as_nanos();
    assert!(sum > 0.0);
    println!("{nanoseconds}");
}
