//! What came of a comparison.

use serde::Serialize;

use super::events::{EventSet, RateAgainst};
use super::measured::{MeasuredAgainst, MeasuredSet};
use super::request::{CompareRequest, DataSet};
use super::units::{ShareAgainst, UnitSet};
use crate::chart::ChartKind;
use crate::points::{Count, Points};
use crate::wrong_request::WrongRequest;

/// What came of a comparison.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[serde(untagged)]
#[allow(missing_docs)] // the sets in the order given, and each but the first against the first
pub enum Comparison {
    Measured { sets: Vec<MeasuredSet>, against: Vec<MeasuredAgainst> },
    Units { sets: Vec<UnitSet>, against: Vec<ShareAgainst> },
    Events { sets: Vec<EventSet>, against: Vec<RateAgainst> },
}

/// Compares data sets.
///
/// # Errors
/// No set, one without a value, a chart whose data compare to nothing, points that the chart does not take, sizes of
/// units that are not whole, specification limits out of order, a confidence out of its bounds.
pub fn compare(request: &CompareRequest) -> Result<Comparison, WrongRequest> {
    request.check()?;
    let counts = |set: &DataSet| counted(&set.points);
    match request.chart {
        ChartKind::P | ChartKind::Np => {
            let sets: Vec<UnitSet> =
                request.sets.iter().map(|set| UnitSet::of(&set.name, &counts(set), request.confidence)).collect();
            let against = after_first(&sets, |base, set| ShareAgainst::of(base, set, request.confidence));
            Ok(Comparison::Units { sets, against })
        }
        ChartKind::U | ChartKind::C => {
            let sets: Vec<EventSet> =
                request.sets.iter().map(|set| EventSet::of(&set.name, &counts(set), request.confidence)).collect();
            let against = after_first(&sets, |base, set| RateAgainst::of(base, set, request.confidence));
            Ok(Comparison::Events { sets, against })
        }
        _ => {
            let sets: Vec<MeasuredSet> =
                request.sets.iter().map(|set| MeasuredSet::of(set, request)).collect::<Result<_, _>>()?;
            let against = after_first(&sets, |base, set| MeasuredAgainst::of(base, set, request.confidence));
            Ok(Comparison::Measured { sets, against })
        }
    }
}

fn after_first<S, A>(sets: &[S], against: impl Fn(&S, &S) -> A) -> Vec<A> {
    sets.split_first().map_or_else(Vec::new, |(base, others)| others.iter().map(|set| against(base, set)).collect())
}

/// What was counted, gaps left out.
fn counted(points: &Points) -> Vec<Count> {
    match points {
        Points::Counts(counts) => counts.iter().copied().flatten().collect(),
        _ => vec![],
    }
}
