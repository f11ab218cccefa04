//! How much load.

use std::time::Duration;

pub const TECHNICIANS: usize = 200;
pub const EVERY: Duration = Duration::from_secs(5);
pub const DEVICES: usize = 10;
/// Samples of a device in one request, one request a second.
pub const BATCH: usize = 50;
