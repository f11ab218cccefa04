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
pub(crate) mod attributes;
mod between_within;
mod check;
mod compute;
mod cusum;
mod ewma;
mod gather;
mod individuals;
mod judged;
mod kinds;
mod lines;
pub(crate) mod moving;
mod moving_average;
mod panel;
mod plot;
mod rare_events;
mod request;
mod run_chart;
pub(crate) mod subgroups;
pub(crate) mod time_weighted;
mod watch;

pub use answer::{ChartAnswer, PanelPoint, Phase, Signal, Statistic};
pub(crate) use check::within_range;
pub use compute::{compute, signals};
pub use lines::Estimate;
pub(crate) use lines::{Stretch, set_aside, usable};
pub use panel::Panel;
pub(crate) use request::spelled;
pub use request::{ChartKind, ChartOptions, ChartRequest, Limits, LimitsBasis, Problem, Recorded, SigmaMethod};
pub(crate) use subgroups::Dispersion;
pub(crate) use time_weighted::dispersion_for;
pub use watch::{Judged, Watch, Watched};
