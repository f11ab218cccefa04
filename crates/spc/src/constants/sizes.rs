/// Smallest subgroup that has a range.
pub const MIN_N: usize = 2;

/// Largest subgroup size that is computed.
pub const MAX_N: usize = 200;
