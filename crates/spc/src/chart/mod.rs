//! Control charts: a request goes in, panels with limits and signals come out.
//!
//! | chart | module |
//! |---|---|
//! | mean and range, mean and s, median and range | `subgroups` |
//! | individuals and moving range | `individuals` |
//! | run chart | `run_chart` |
//! | EWMA, CUSUM, moving average | `ewma`, `cusum`, `moving_average` |
//! | between and within | `between_within` |
//! | p, np, c, u, p′, u′ | `attributes` |
//! | g, t | `rare_events` |
//!
//! Each module begins with its formulas and their source. A chart is computed in two steps: figures
//! (centre and sigma) of each phase, estimated or given, and then one point after another placed
//! among the lines and judged. [`Watch`] is the second step alone, for figures in force.

mod answer;
mod attributes;
mod between_within;
mod check;
mod compute;
mod cusum;
mod ewma;
mod figures;
mod gather;
mod individuals;
mod judged;
mod kinds;
mod lines;
mod moving_average;
mod panel;
mod panel_point;
mod plot;
mod rare_events;
mod request;
mod run_chart;
mod statistic;
mod subgroups;
mod time_weighted;
mod used;
mod watch;
mod zones;

pub use answer::{ChartAnswer, Phase, Signal};
pub use compute::{compute, signals};
pub use figures::Figures;
pub use panel::Panel;
pub use panel_point::PanelPoint;
pub use request::{ChartKind, ChartOptions, ChartRequest, Limits, LimitsBasis, Recorded, SigmaMethod};
pub use statistic::Statistic;
pub(crate) use used::{set_aside, usable};
pub use watch::{Judged, Place, Sums, Watch, Watched};
pub use zones::{Zones, zones};
