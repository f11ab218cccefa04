//! Looking at points otherwise than they are judged: on another kind of chart, at other limits, by
//! other rules, or split by a tag. Limits are computed
//! from the points that are shown; nothing is changed, and nothing raised.

mod look;
mod types;

pub use look::look;
pub use types::{Arrange, LookAt, Looked, LookedDrawing, LookedStretch, OtherRules, PanelRange};
