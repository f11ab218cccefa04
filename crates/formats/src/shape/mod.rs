//! Tables of any shape into samples, by a recipe.

mod cell;
mod drawing;
mod fields;
mod grid;
mod keys;
mod propose;
mod recipe;
mod refusals;
mod rows;
mod run;
mod samples;
mod shapes;
mod time_format;
mod wrong;

pub use grid::{BYTES_AT_MOST, COLUMNS_AT_MOST, Header, ROWS_AT_MOST, RawTable};
pub use keys::{key_columns, row_keys};
pub use propose::{Proposal, ShapeReason, propose};
pub use recipe::{Read, Recipe};
pub use refusals::{CellRefusal, RefusedCell};
pub use run::{Shaped, draw, shape};
pub use samples::{Content, Sample, Samples};
pub use wrong::WrongRecipe;
