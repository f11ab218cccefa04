//! What simulated devices measure.

use rand_distr::{Distribution, Normal};

/// Values about a mean.
#[derive(Debug, Clone, Copy)]
pub struct Values {
    /// Their mean.
    pub mean: f64,
    /// Their standard deviation.
    pub sigma: f64,
    /// Their decimals.
    pub decimals: usize,
}

impl Values {
    /// One more value, as text.
    pub fn next(&self) -> String {
        let value = Normal::new(self.mean, self.sigma).map_or(self.mean, |normal| normal.sample(&mut rand::rng()));
        format!("{value:.*}", self.decimals)
    }
}
