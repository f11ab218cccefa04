//! Which chart is made of what.

use super::attributes::Attributes;
use super::between_within::BetweenWithin;
use super::cusum::Cusum;
use super::ewma::Ewma;
use super::individuals::Individuals;
use super::moving_average::MovingAverage;
use super::plot::Chart;
use super::rare_events::{Geometric, TimeBetween};
use super::request::ChartKind;
use super::run_chart::RunChart;
use super::subgroups::Subgroups;
use crate::sigma::{Counted, Dispersion, Location};

/// Something to be done with a chart whatever its kind.
pub(super) trait Visit {
    type Output;
    fn chart(self, chart: impl Chart) -> Self::Output;
}

/// `dispersion` is what a between and within chart shows in its last panel.
pub(super) fn visit<V: Visit>(kind: ChartKind, dispersion: Dispersion, visitor: V) -> V::Output {
    let counts = |counted, corrected| Attributes { counted, corrected };
    match kind {
        ChartKind::XbarR => visitor.chart(Subgroups { location: Location::Mean, dispersion: Dispersion::Range }),
        ChartKind::XbarS => visitor.chart(Subgroups { location: Location::Mean, dispersion: Dispersion::Sd }),
        ChartKind::MedianR => visitor.chart(Subgroups { location: Location::Median, dispersion: Dispersion::Range }),
        ChartKind::IMr => visitor.chart(Individuals),
        ChartKind::Run => visitor.chart(RunChart),
        ChartKind::Ewma => visitor.chart(Ewma),
        ChartKind::Cusum => visitor.chart(Cusum),
        ChartKind::MovingAverage => visitor.chart(MovingAverage),
        ChartKind::BetweenWithin => visitor.chart(BetweenWithin { dispersion }),
        ChartKind::P => visitor.chart(counts(Counted::Proportion, false)),
        ChartKind::Np => visitor.chart(counts(Counted::Units, false)),
        ChartKind::C => visitor.chart(counts(Counted::Nonconformities, false)),
        ChartKind::U => visitor.chart(counts(Counted::Rate, false)),
        ChartKind::PPrime => visitor.chart(counts(Counted::Proportion, true)),
        ChartKind::UPrime => visitor.chart(counts(Counted::Rate, true)),
        ChartKind::G => visitor.chart(Geometric),
        ChartKind::T => visitor.chart(TimeBetween),
    }
}
