//! Open formats, without clock, database or network: a table goes out as bytes.
//!
//! | module | idea |
//! |---|---|
//! | [`table`] | a table: what it is about, its columns, its rows |
//! | [`csv`] | as CSV (RFC 4180) |
//! | [`sheet`] | as a spreadsheet (Office Open XML, ISO/IEC 29500) |
#![deny(missing_docs)]

pub mod csv;
pub mod sheet;
pub mod table;
