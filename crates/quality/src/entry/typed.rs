//! An entry as it stands in the fields, before anything is made of it.

use std::collections::BTreeMap;
use std::ops::{Deref, DerefMut};

use serde::{Deserialize, Serialize};

use crate::sample::Defects;

/// An entry as it stands in the fields. Measured values use `readings`, `components` and `left_out`;
/// counts use `inspected` and `defects`; rare events `between`, unless their time says all.
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
    /// Conforming units since the rare event before.
    pub between: Option<String>,
    /// By name.
    pub tags: Tags,
    /// Readings that were changed when somebody asked whether they are right, as they were typed first.
    pub typed_first: Vec<TypedFirst>,
}

/// A reading as it was typed first.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct TypedFirst {
    /// Which piece, from 1.
    pub piece: usize,
    /// As it was typed.
    pub given: String,
}

/// Tags of a sample by name, such as `lot`.
#[derive(Debug, Clone, PartialEq, Eq, Hash, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(transparent)]
pub struct Tags(BTreeMap<String, String>);

impl Deref for Tags {
    type Target = BTreeMap<String, String>;

    fn deref(&self) -> &Self::Target {
        &self.0
    }
}

impl DerefMut for Tags {
    fn deref_mut(&mut self) -> &mut Self::Target {
        &mut self.0
    }
}

impl FromIterator<(String, String)> for Tags {
    fn from_iter<I: IntoIterator<Item = (String, String)>>(tags: I) -> Self {
        Self(tags.into_iter().collect())
    }
}

impl<const N: usize> From<[(String, String); N]> for Tags {
    fn from(tags: [(String, String); N]) -> Self {
        tags.into_iter().collect()
    }
}
