//! A recipe for a file that nobody has described yet.

use serde::Serialize;
use serde_json::Value;

use super::super::wrong::WrongRecipe;
use super::reason::ShapeReason;
use super::{columns, file, guess};

/// A recipe for a file that nobody has described yet.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Proposal {
    /// The recipe.
    pub recipe: Value,
    /// Why its shape was taken.
    pub reason: ShapeReason,
    /// Names of the sheets, where the file has some.
    pub sheets: Vec<String>,
}

/// Proposes a recipe. `sheet` is the one that is meant, the first where none is named.
///
/// # Errors
/// When the file can be read in no way.
pub fn propose(bytes: &[u8], sheet: Option<&str>) -> Result<Proposal, WrongRecipe> {
    let found = file::read(bytes, sheet)?;
    let columns = columns::classes(&found.table, found.decimal_comma);
    let (shape, reason) = guess::shape(&found.table, &columns);
    Ok(Proposal { recipe: guess::recipe(&found, &columns, shape), reason, sheets: found.sheets })
}
