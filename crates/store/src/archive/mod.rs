//! The whole site as lines of JSON, table by table, and back into an empty database.

mod lines;
mod out;
mod tables;
mod take_in;
mod taken_away;

pub use out::Outgoing;
pub use tables::{Column, Table};
pub use take_in::{Incoming, NotTakenIn};
