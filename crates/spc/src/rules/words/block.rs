//! Values of a block before they are judged, all on one scale.

use super::bits::BLOCK;
use super::scale::Scale;

/// Values on a scale, and what came before them.
#[derive(Debug, Clone)]
pub(super) struct Block {
    values: Box<[f64; BLOCK]>,
    pub filled: usize,
    pub scale: Scale,
    /// The last value of the block before with its scale, where there is one.
    last: Option<(f64, Scale)>,
}

impl Block {
    pub fn new() -> Self {
        Self { values: Box::new([f64::NAN; BLOCK]), filled: 0, scale: Scale::OF_Z, last: None }
    }

    /// Takes as many values as there is room for; gives how many.
    pub fn take(&mut self, values: &[f64], scale: Scale) -> usize {
        if self.filled == 0 {
            self.scale = scale;
        } else if self.scale != scale {
            self.become_z();
        }
        let many = values.len().min(BLOCK - self.filled);
        let into = &mut self.values[self.filled..self.filled + many];
        if self.scale == scale {
            into.copy_from_slice(&values[..many]);
        } else {
            into.iter_mut().zip(values).for_each(|(z, x)| *z = scale.z(*x));
        }
        self.filled += many;
        many
    }

    /// Nothing more comes; what it looks at before it is on its scale too.
    pub fn close(&mut self) {
        // No comparison with NaN holds, so no bit is set where there is no point.
        self.values[self.filled..].fill(f64::NAN);
        if self.before(self.scale).is_none() {
            self.become_z();
        }
    }

    /// The last value of the block before on a scale, NaN where there is none; `None` where it lies on another.
    pub fn before(&self, scale: Scale) -> Option<f64> {
        match self.last {
            Some((last, of)) if of == scale => Some(last),
            Some((last, of)) => (scale == Scale::OF_Z).then(|| of.z(last)),
            None => Some(f64::NAN),
        }
    }

    /// Values become their z: where lines change within the block, or a step is too close to a tie to tell.
    pub fn become_z(&mut self) {
        let scale = std::mem::replace(&mut self.scale, Scale::OF_Z);
        if scale != Scale::OF_Z {
            self.values[..self.filled].iter_mut().for_each(|x| *x = scale.z(*x));
        }
    }

    /// The values; NaN where there is none.
    pub fn values(&self) -> &[f64; BLOCK] {
        &self.values
    }

    /// The next block begins, behind this value.
    pub fn next(&mut self, last: f64, scale: Scale) {
        self.last = Some((last, scale));
        self.filled = 0;
    }

    /// What was before is forgotten.
    pub fn clear(&mut self) {
        (self.last, self.filled) = (None, 0);
    }
}
