//! The exact interval of a share.

use statrs::function::beta::beta_reg;

use crate::solve::root;

/// A share and what it leaves, each to its own last digit.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Share {
    pub with: f64,
    pub without: f64,
}

/// Clopper–Pearson: the shares at which `seen` of `of`, or more, and `seen`, or fewer, have probability
/// (1 − confidence)/2. 0 where none was seen, 1 where all were. Source: C. Clopper & E. Pearson, Biometrika 26 (1934) 404.
pub(super) fn exact(seen: f64, of: f64, confidence: f64) -> [Share; 2] {
    let tail = 0.5 * (1.0 - confidence);
    let low =
        if seen == 0.0 { Share { with: 0.0, without: 1.0 } } else { beta_quantile(seen, of - seen + 1.0, tail, false) };
    let high =
        if seen == of { Share { with: 1.0, without: 0.0 } } else { beta_quantile(seen + 1.0, of - seen, tail, true) };
    [low, high]
}

/// The share that a Beta(a, b) value stays below with probability `tail`, or exceeds with it. It is looked for on the
/// side of its small one, so that no digit of that is lost.
fn beta_quantile(a: f64, b: f64, tail: f64, upper: bool) -> Share {
    let find = |a: f64, b: f64, below: bool| {
        let f = |x: f64| if below { beta_reg(a, b, x) - tail } else { beta_reg(b, a, 1.0 - x) - tail };
        root((0.0, f(0.0)), (1.0, f(1.0)), f).unwrap_or(f64::NAN)
    };
    if a < b {
        let with = find(a, b, !upper);
        Share { with, without: 1.0 - with }
    } else {
        let without = find(b, a, upper);
        Share { with: 1.0 - without, without }
    }
}
