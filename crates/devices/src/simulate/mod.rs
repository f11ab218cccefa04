//! Stand-ins for devices, a program that writes tables, a mailbox, a program that is told and a peer group: they speak as the real ones do, over real sockets.

mod analyser;
mod gauge;
mod ingest;
mod mailbox;
mod peers;
mod receiver;
mod sensor;
mod tables;
mod values;

pub use analyser::{Analyser, AnalyserTest};
pub use gauge::Gauge;
pub use ingest::Ingest;
pub use mailbox::{Mailbox, Received};
pub use peers::{Kept, Peers, PeersLevel};
pub use receiver::{Receiver, Told};
pub use sensor::Sensor;
pub use tables::Tables;
pub use values::Values;
