//! An entry as it stands in the fields, before anything is made of it.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::sample::Defects;

/// An entry as it stands in the fields. Measured values use `readings`, `components` and `left_out`;
/// counts use `inspected` and `defects`.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Typed {
    /// One text a piece, with decimal point or comma.
    pub readings: Vec<String>,
    /// One text for each reference component; blank where it was not measured.
    pub components: Vec<String>,
    /// Pieces left out on purpose, from 1.
    pub left_out: Vec<usize>,
    /// Units inspected; may be left out where the number is fixed.
    pub inspected: Option<String>,
    /// Counts by kind.
    pub defects: Vec<Defects>,
    /// By name.
    pub tags: Tags,
}

/// Tags of a sample by name, such as `lot`.
pub type Tags = BTreeMap<String, String>;
