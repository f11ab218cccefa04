//! Studies: saved questions about a selection of samples, and what is answered.
//!
//! | what | module |
//! |---|---|
//! | which samples | `selection`, `used` |
//! | what is drawn of values | `drawing` |
//! | what is asked, of which sort | `question` |
//! | whether a process is able to hold its specification | `capability`, `doubts`, `verdict` |
//! | which distribution the values follow | `distribution` |
//! | which kinds of defects there are | `defects` |
//! | how sets of samples differ | `side_by_side` |
//! | what rules and sampling plans see and cost | `rule_sets` |
//! | how any measure goes over time | `over_time`, `span` |
//! | the samples that are split into groups | `split` |
//! | the life of a study: kept, refreshed, frozen, signed | `life` |
//! | why nothing can be answered | `refusal` |

mod capability;
mod defects;
mod distribution;
mod doubts;
mod drawing;
mod life;
mod over_time;
mod question;
mod refusal;
mod rule_sets;
mod selection;
mod side_by_side;
mod span;
mod split;
mod used;
mod verdict;

pub use capability::{
    CapabilityAnswer, CapabilityGroup, CapabilityQuestion, Curve, CurveOf, Outside, Reach, capability,
};
pub use defects::{
    BarAgainst, Counted, DefectBar, DefectGroup, DefectTotals, DefectsAnswer, DefectsQuestion, Few, defects,
};
pub use distribution::{
    DistributionAnswer, DistributionQuestion, FamilyCurve, Quantile, SampleDrawn, TakenBecause, TakenDistribution,
    distribution,
};
pub use doubts::{CapabilityDoubt, Known};
pub use drawing::FitPlot;
pub use life::{DataState, Since, Stage, may_freeze, may_refresh, may_sign};
pub use over_time::{
    BeyondSide, Measure, OverTimeAnswer, OverTimeQuestion, PeriodLimits, PeriodPoint, SumUp, over_time,
};
pub use question::{Question, Sort};
pub use refusal::StudyRefusal;
pub use rule_sets::{Design, DesignRules, DesignSees, RuleSetsAnswer, RuleSetsQuestion, SeenShift, rule_sets};
pub use selection::{Picked, Selection};
pub use side_by_side::{
    ColumnOf, Columns, EventsColumn, MeasuredColumn, SetAsked, SetPicked, SideBySideAnswer, SideBySideQuestion,
    UnitsColumn, side_by_side,
};
pub use span::{Period, Span};
pub use split::{Group, Split};
pub use used::Extent;
pub use verdict::{CapabilityVerdict, Index};
