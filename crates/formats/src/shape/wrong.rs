//! What is wrong with a recipe, or with the file that it is for.

use std::fmt;

use serde::Serialize;
use thiserror::Error;

/// A field that cannot be as it is.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Error)]
#[error("{path}: {given} is given, allowed is {allowed}")]
pub struct WrongRecipe {
    /// The field by its path, such as `shape.values[1]`.
    pub path: String,
    /// As it is given.
    pub given: String,
    /// What it may be.
    pub allowed: String,
}

impl WrongRecipe {
    /// What the field may be.
    pub(super) fn new(path: impl Into<String>, given: impl fmt::Display, allowed: impl fmt::Display) -> Self {
        Self { path: line(&path.into()), given: line(&given.to_string()), allowed: line(&allowed.to_string()) }
    }
}

/// Longest text that is repeated, in characters.
const LONGEST: usize = 240;

/// On one line, however much was given.
fn line(given: &str) -> String {
    let mut line: String = given.chars().map(|c| if c.is_control() { ' ' } else { c }).take(LONGEST).collect();
    if given.chars().nth(LONGEST).is_some() {
        line.push('…');
    }
    if line.is_empty() { "nothing".into() } else { line }
}
