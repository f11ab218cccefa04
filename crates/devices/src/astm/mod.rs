//! A laboratory analyser: frames of ASTM E1381 (now CLSI LIS01) with records of ASTM E1394 (LIS02)
//! over TCP. Results become offers to the run that is being entered.

pub mod frame;
pub mod record;
mod speak;

pub(crate) use speak::speak;
