//! The constants against printed tables and closed forms.

use rstest::rstest;
use spc::constants::{c4, median_error, range_constants, range_median};

fn assert_relative(got: f64, want: f64, relative: f64) {
    assert!((got - want).abs() <= relative * want.abs(), "{got} is not {want} within {relative}");
}

/// Closed forms: the range of two values is |N(0, 2)|.
#[test]
fn two_values_have_closed_forms() {
    let c = range_constants(2).unwrap();
    let pi = std::f64::consts::PI;
    assert_relative(c.d2, 2.0 / pi.sqrt(), 1e-12);
    assert_relative(c.d3, (2.0 - 4.0 / pi).sqrt(), 1e-12);
    assert_relative(range_median(2).unwrap(), 0.953_872_552_4, 1e-10);
    assert_relative(range_constants(3).unwrap().d2, 3.0 / pi.sqrt(), 1e-12);
}

/// n, d2, d3, c4, A2, A3, B3, B4, D3, D4 as printed: Montgomery, Introduction to Statistical Quality
/// Control, appendix VI; ASTM manual 7, table 49.
#[rustfmt::skip]
const PRINTED: [(usize, [f64; 9]); 24] = [
    (2, [1.128, 0.853, 0.7979, 1.880, 2.659, 0.000, 3.267, 0.000, 3.267]),
    (3, [1.693, 0.888, 0.8862, 1.023, 1.954, 0.000, 2.568, 0.000, 2.574]),
    (4, [2.059, 0.880, 0.9213, 0.729, 1.628, 0.000, 2.266, 0.000, 2.282]),
    (5, [2.326, 0.864, 0.9400, 0.577, 1.427, 0.000, 2.089, 0.000, 2.114]),
    (6, [2.534, 0.848, 0.9515, 0.483, 1.287, 0.030, 1.970, 0.000, 2.004]),
    (7, [2.704, 0.833, 0.9594, 0.419, 1.182, 0.118, 1.882, 0.076, 1.924]),
    (8, [2.847, 0.820, 0.9650, 0.373, 1.099, 0.185, 1.815, 0.136, 1.864]),
    (9, [2.970, 0.808, 0.9693, 0.337, 1.032, 0.239, 1.761, 0.184, 1.816]),
    (10, [3.078, 0.797, 0.9727, 0.308, 0.975, 0.284, 1.716, 0.223, 1.777]),
    (11, [3.173, 0.787, 0.9754, 0.285, 0.927, 0.321, 1.679, 0.256, 1.744]),
    (12, [3.258, 0.778, 0.9776, 0.266, 0.886, 0.354, 1.646, 0.283, 1.717]),
    (13, [3.336, 0.770, 0.9794, 0.249, 0.850, 0.382, 1.618, 0.307, 1.693]),
    (14, [3.407, 0.763, 0.9810, 0.235, 0.817, 0.406, 1.594, 0.328, 1.672]),
    (15, [3.472, 0.756, 0.9823, 0.223, 0.789, 0.428, 1.572, 0.347, 1.653]),
    (16, [3.532, 0.750, 0.9835, 0.212, 0.763, 0.448, 1.552, 0.363, 1.637]),
    (17, [3.588, 0.744, 0.9845, 0.203, 0.739, 0.466, 1.534, 0.378, 1.622]),
    (18, [3.640, 0.739, 0.9854, 0.194, 0.718, 0.482, 1.518, 0.391, 1.608]),
    (19, [3.689, 0.734, 0.9862, 0.187, 0.698, 0.497, 1.503, 0.403, 1.597]),
    (20, [3.735, 0.729, 0.9869, 0.180, 0.680, 0.510, 1.490, 0.415, 1.585]),
    (21, [3.778, 0.724, 0.9876, 0.173, 0.663, 0.523, 1.477, 0.425, 1.575]),
    (22, [3.819, 0.720, 0.9882, 0.167, 0.647, 0.534, 1.466, 0.434, 1.566]),
    (23, [3.858, 0.716, 0.9887, 0.162, 0.633, 0.545, 1.455, 0.443, 1.557]),
    (24, [3.895, 0.712, 0.9892, 0.157, 0.619, 0.555, 1.445, 0.451, 1.548]),
    (25, [3.931, 0.708, 0.9896, 0.153, 0.606, 0.565, 1.435, 0.459, 1.541]),
];

/// Entries that were printed from d2 and d3 already rounded to three digits, and so are one unit off in
/// the last digit: n and column.
const PRINTED_FROM_ROUNDED: [(usize, usize); 8] =
    [(3, 8), (18, 8), (19, 1), (19, 7), (19, 8), (22, 7), (22, 8), (24, 7)];

#[test]
fn printed_factors_hold_to_the_printed_digits() {
    for (n, printed) in PRINTED {
        let c = range_constants(n).unwrap();
        let c4 = c4(n).unwrap();
        let root = (n as f64).sqrt();
        let (of_range, of_s) = (3.0 * c.d3 / c.d2, 3.0 * (1.0 - c4 * c4).sqrt() / c4);
        let computed = [
            c.d2,
            c.d3,
            c4,
            3.0 / (c.d2 * root),
            3.0 / (c4 * root),
            (1.0 - of_s).max(0.0),
            1.0 + of_s,
            (1.0 - of_range).max(0.0),
            1.0 + of_range,
        ];
        for (column, (computed, printed)) in computed.into_iter().zip(printed).enumerate() {
            let digit = if column == 2 { 1e-4 } else { 1e-3 };
            let units = if PRINTED_FROM_ROUNDED.contains(&(n, column)) { 1.0 } else { 0.5 };
            assert!(
                (computed - printed).abs() <= units * digit * 1.000001,
                "n = {n}, column {column}: {computed}, printed {printed}"
            );
        }
    }
}

/// Medians of one and two values are their mean; of three values the variance is 1 − √3/π = 0.448671.
/// Towards many values e → √(π/2).
#[test]
fn errors_of_medians_hold_where_they_are_known() {
    assert_relative(median_error(1).unwrap(), 1.0, 1e-12);
    assert_relative(median_error(2).unwrap(), 1.0, 1e-12);
    assert_relative(median_error(3).unwrap(), (3.0 * (1.0 - 3f64.sqrt() / std::f64::consts::PI)).sqrt(), 1e-12);
    assert_relative(median_error(199).unwrap(), std::f64::consts::FRAC_PI_2.sqrt(), 5e-3);
}

#[rstest]
#[case(0)]
#[case(201)]
fn outside_the_range_there_is_nothing(#[case] n: usize) {
    assert_eq!(range_constants(n), None);
    assert_eq!(range_median(n), None);
    assert_eq!(c4(n), None);
    assert_eq!(median_error(n), None);
}
