//! How much load.

use std::time::Duration;

pub const TECHNICIANS: usize = 200;
pub const EVERY: Duration = Duration::from_secs(5);
pub const DEVICES: usize = 10;
/// Samples of a device in one request, one request a second.
pub const BATCH: usize = 50;
/// So many technicians take turns at each characteristic.
pub const TECHNICIANS_EACH: usize = 2;
/// How long technicians enter one sample after another.
pub const CLOSED_FOR: Duration = Duration::from_secs(10);
