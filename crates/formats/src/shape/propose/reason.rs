//! Why a shape was taken.

use serde::Serialize;

/// Why a shape was taken.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ShapeReason {
    /// Several columns hold numbers of one size: pieces of a sample beside each other.
    ReadingsBesideEachOther,
    /// One column holds numbers.
    OneReadingARow,
    /// One column holds numbers, and neighbours agree in another.
    NeighboursAgree,
    /// Whole numbers, and one column says of how many.
    CountsOfInspected,
    /// More columns than rows, all of numbers below their names.
    ColumnsLongerThanRows,
    /// Several columns hold numbers of different sizes: the first is taken.
    SeveralMeasures,
    /// No column holds numbers.
    NoNumbers,
}
