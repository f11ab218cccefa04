//! Control charts as they are looked at.

mod asked;
mod columns;
mod drawn_points;
mod gather;
mod lay_out;
mod notes;
mod points;
mod signals;
mod small;
mod trust;
mod types;
mod view;

pub use columns::PanelColumns;
pub(crate) use columns::panels as panel_columns;
pub use drawn_points::{DrawnPoints, drawn};
pub use notes::{ChartNote, Mentioned};
pub(crate) use points::{content, details};
pub use signals::bundled;
pub use small::{SmallAsked, SmallChart, pin, small};
pub use trust::trust;
pub use types::{
    Asked, ChartEpisode, ChartPanel, ChartPhase, ChartPoint, ChartSignal, DRAWN, DRAWN_AT_MOST, Gap, PLACES_AT_MOST,
    POINTS_AT_MOST, Said,
};
pub use view::{AddedPoint, ChartView, added, view};
