//! A table that is whole, and what it is for.

use std::sync::Arc;

use store::characteristics::CharacteristicView;
use store::recipes::RecipeView;

/// A table, and what it is for.
pub(super) struct Table<'a> {
    pub name: &'a str,
    pub content: Arc<[u8]>,
    pub digest: String,
    pub recipe: RecipeView,
    pub setup: CharacteristicView,
}
