//! A stream of values by MQTT: every so many values, or the mean of so many seconds, is a reading;
//! readings make samples.

mod payload;
mod progress;
mod stream;

pub use payload::{Arrived, value_of};
pub use progress::{Progress, Reading};
pub(crate) use stream::Stream;
