//! A recipe: how a table becomes samples.

mod model;
mod parse;
mod parse_shape;

pub use model::{CrossedSample, Format, How, Inspected, Named, Per, READINGS_AT_MOST, Read, Recipe, Shape};
