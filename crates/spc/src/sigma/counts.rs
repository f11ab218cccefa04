//! Centre and standard error of counts.
//!
//! p̄ = ΣD/Σn, c̄ = ΣC/N, ū = ΣC/Σn; standard errors √(p̄(1−p̄)/n), √(np̄(1−p̄)), √c̄, √(ū/n).
//! Source: ISO 7870-2; Montgomery, ch. 7.

use crate::points::Count;

/// What is counted, and how it is shown.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Counted {
    /// Share of nonconforming units.
    Proportion,
    /// Number of nonconforming units.
    Units,
    /// Nonconformities in a constant area.
    Nonconformities,
    /// Nonconformities a unit.
    Rate,
}

impl Counted {
    /// What is plotted of a count.
    pub fn value(self, Count { count, size }: Count) -> f64 {
        match self {
            Counted::Proportion | Counted::Rate => count / size,
            Counted::Units | Counted::Nonconformities => count,
        }
    }

    /// Centre and standard error at `size`, for p̄, c̄ or ū.
    pub fn center_and_error(self, center: f64, size: f64) -> (f64, f64) {
        match self {
            Counted::Proportion => (center, (center * (1.0 - center) / size).sqrt()),
            Counted::Units => (size * center, (size * center * (1.0 - center)).sqrt()),
            Counted::Nonconformities => (center, center.sqrt()),
            Counted::Rate => (center, (center / size).sqrt()),
        }
    }

    /// The largest value there can be.
    pub fn most(self, size: f64) -> f64 {
        match self {
            Counted::Proportion => 1.0,
            Counted::Units => size,
            Counted::Nonconformities | Counted::Rate => f64::INFINITY,
        }
    }

    /// z of a count about p̄, c̄ or ū; NaN where the standard error is 0.
    pub fn z(self, count: Count, center: f64) -> f64 {
        let (center, error) = self.center_and_error(center, count.size);
        let z = (self.value(count) - center) / error;
        if z.is_finite() { z } else { f64::NAN }
    }

    /// Standard error of one unit, or of one c point.
    pub fn sigma_of_one(self, center: f64) -> f64 {
        self.center_and_error(center, 1.0).1
    }

    /// p̄, c̄ or ū of the points, and how many there are.
    pub fn center(self, counts: impl Iterator<Item = Count>) -> (Option<f64>, usize) {
        let (mut count, mut size, mut used) = (0.0, 0.0, 0usize);
        for point in counts {
            count += point.count;
            size += point.size;
            used += 1;
        }
        let divisor = if self == Counted::Nonconformities { used as f64 } else { size };
        ((used > 0).then(|| count / divisor), used)
    }
}
