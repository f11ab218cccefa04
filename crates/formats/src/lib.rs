//! Open formats, without clock, database or network: a table goes out as bytes, and samples come in from one.
//!
//! | module | idea |
//! |---|---|
//! | [`table`] | a table: what it is about, its columns, its rows |
//! | [`layout`] | samples as a table, in the shape that is asked for |
//! | [`csv`] | as CSV (RFC 4180) |
//! | [`file_name()`] | what such a file is called |
//! | [`json`] | as JSON (RFC 8259), and what of it is not kept |
//! | [`open_document`] | as an open document (ISO/IEC 26300) |
//! | [`shape`] | tables of any shape into samples, by a recipe |
//! | [`sheet`] | as a spreadsheet (Office Open XML, ISO/IEC 29500) |
#![deny(missing_docs)]

pub mod csv;
mod file_name;
pub mod json;
pub mod layout;
pub mod open_document;
pub mod shape;
pub mod sheet;
pub mod table;

pub use file_name::file_name;
