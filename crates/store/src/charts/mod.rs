//! Control charts as they are looked at.

mod lay_out;
mod points;
mod signals;
mod trust;
mod types;
mod view;

pub(crate) use points::content;
pub use trust::trust;
pub use types::{
    ChartEpisode, ChartNote, ChartPanel, ChartPhase, ChartPoint, ChartSignal, ChartView, Gap, POINTS_AT_MOST, Said,
};
pub use view::view;
