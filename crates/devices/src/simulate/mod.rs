//! Stand-ins for devices: they speak as the real ones do, over real sockets.

mod analyser;
mod gauge;
mod ingest;
mod sensor;
mod values;

pub use analyser::{Analyser, AnalyserTest};
pub use gauge::Gauge;
pub use ingest::Ingest;
pub use sensor::Sensor;
pub use values::Values;
