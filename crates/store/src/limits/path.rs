//! The path of limits: trial limits, the points that break rules, revised limits beside the trial ones.

use quality::limits::{Baseline, Estimate, SigmaSource, Unfit, estimate, unfit};
use quality::object::ObjectKind;
use quality::place::{Place, points, where_so};
use serde::Serialize;
use spc::chart::{ChartRequest, Figures, Limits, LimitsBasis, PanelPoint, Signal, Statistic, compute};
use spc::rules::{Rule, Side};
use sqlx::PgConnection;
use utoipa::ToSchema;
use uuid::Uuid;

use super::freeze::not_accepted;
use crate::StoreError;
use crate::characteristics::CharacteristicView;
use crate::charts::POINTS_AT_MOST;
use crate::drawn::Drawing;
use crate::phases::Phase;
use crate::series::{SeriesPoint, Stretch};

/// From trial limits to revised ones.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct LimitsPath {
    /// The phase.
    pub phase: Uuid,
    /// First sample used, where a stretch is looked at and not the whole phase.
    pub first: Option<Uuid>,
    /// Last sample used.
    pub last: Option<Uuid>,
    /// Points that the path uses, those set aside among them.
    pub points: usize,
    /// With nothing set aside; nothing where there are too few points.
    pub trial: Option<PathLimits>,
    /// Without what is set aside; nothing where there are too few points.
    pub revised: Option<PathLimits>,
    /// As they are in force.
    pub in_force: Option<PathLimits>,
    /// What speaks against putting the revised ones in force.
    pub unfit: Vec<Unfit>,
    /// Points that break rules under the revised limits, and points set aside, in order.
    pub findings: Vec<PathPoint>,
    /// The latest points under the revised limits.
    pub chart: Drawing,
}

/// Limits on the path.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct PathLimits {
    /// What they are made of.
    pub figures: Figures,
    /// What they rest on; nothing where figures were given.
    pub baseline: Option<Baseline>,
    /// How sigma came about.
    pub sigma_method: SigmaSource,
    /// The lines at the newest point.
    pub lines: Vec<PathLines>,
    /// Points of the path beyond one of them, those set aside not counted.
    pub out: usize,
    /// Points that were counted.
    pub of: usize,
}

/// Lines of one panel.
#[derive(Debug, Clone, Copy, Serialize, ToSchema)]
pub struct PathLines {
    /// The panel.
    pub panel: Statistic,
    pub center: Option<f64>,
    pub lower: Option<f64>,
    pub upper: Option<f64>,
}

/// A point on the path that asks to be looked at.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct PathPoint {
    /// The sample.
    pub sample: Uuid,
    /// Its number.
    pub number: i64,
    /// What is wrong with it under the revised limits; nothing for one that is set aside.
    pub broken: Vec<PathFinding>,
}

/// A rule that a point breaks.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct PathFinding {
    /// The panel.
    pub panel: Statistic,
    pub rule: Rule,
    pub side: Option<Side>,
    /// Number of the first sample of the pattern.
    pub from_number: i64,
    /// Number of the last sample of the pattern.
    pub to_number: i64,
}

/// Which path.
#[derive(Debug, Clone, Copy, Default)]
pub struct WhichPath {
    /// The phase; the latest where none is named.
    pub phase: Option<Uuid>,
    /// First sample used.
    pub first: Option<Uuid>,
    /// Last sample used.
    pub last: Option<Uuid>,
}

/// The path of one phase; nothing where it has no point to use.
pub(super) async fn path(
    conn: &mut PgConnection,
    setup: &CharacteristicView,
    all: &[Phase],
    held: usize,
    which: WhichPath,
) -> Result<Option<LimitsPath>, StoreError> {
    let Some(phase) = all.get(held) else { return Ok(None) };
    let schemes = setup.schemes();
    let points = Stretch::of_phase(setup, &schemes, all, held).whole(&mut *conn).await?;
    let place_of = |sample: Option<Uuid>, otherwise: usize| match sample {
        Some(sample) => {
            let found = points.iter().position(|point| point.sample == Some(sample));
            found.ok_or(StoreError::Missing(ObjectKind::Sample))
        }
        None => Ok(otherwise),
    };
    let (first, last) = (place_of(which.first, 0)?, place_of(which.last, points.len().saturating_sub(1))?);
    let points = points.get(first..=last).unwrap_or_default();
    let rejected = not_accepted(conn, setup).await?;
    let places: Vec<Place> = points
        .iter()
        .map(|point| {
            let rejected = point.sample.is_some_and(|sample| rejected.contains(&sample));
            Place { aside: point.place.aside || rejected, ..point.place.clone() }
        })
        .collect();
    if places.iter().all(|place| !place.counts()) {
        return Ok(None);
    }
    let chart = Chart { setup, points, places: &places };
    let whole: Vec<Place> = places.iter().map(|place| Place { aside: false, ..place.clone() }).collect();
    let source = SigmaSource::of(&setup.characteristic.scheme(), setup.characteristic.subgroup_size);
    let revised = estimate(&setup.characteristic, &places);
    let of_estimate = |found: Estimate| chart.limits(found.figures, Some(found.baseline), source);
    let frozen = phase.figures.filter(|_| phase.put_in_force_at.is_some());
    Ok(Some(LimitsPath {
        phase: phase.id,
        first: which.first,
        last: which.last,
        points: places.iter().filter(|place| !place.plotted.point().is_gap()).count(),
        trial: estimate(&setup.characteristic, &whole).map(of_estimate).transpose()?,
        revised: revised.map(of_estimate).transpose()?,
        in_force: frozen.map(|figures| chart.limits(figures, phase.baseline, phase.sigma_method)).transpose()?,
        unfit: revised.map_or_else(Vec::new, |found| unfit(&setup.characteristic, &places, &found)),
        findings: chart.findings(revised)?,
        chart: chart.drawn(revised)?,
    }))
}

/// The points of a path, judged at once.
struct Chart<'a> {
    setup: &'a CharacteristicView,
    points: &'a [SeriesPoint],
    places: &'a [Place],
}

impl Chart<'_> {
    /// A chart of the points under some figures, by the scheme that holds now.
    fn request(&self, figures: Figures) -> ChartRequest {
        let scheme = self.setup.characteristic.scheme();
        ChartRequest {
            excluded: where_so(self.places, |place| place.aside),
            restarts: where_so(self.places, |place| place.restart),
            limits: vec![Limits { basis: LimitsBasis::Given(figures), k: scheme.k }],
            rules: Some(scheme.rule_set),
            options: scheme.options,
            ..ChartRequest::new(scheme.chart, points(self.setup.characteristic.kind, self.places))
        }
    }

    fn limits(
        &self,
        figures: Figures,
        baseline: Option<Baseline>,
        sigma_method: SigmaSource,
    ) -> Result<PathLimits, StoreError> {
        let answer = compute(&ChartRequest { rules: None, ..self.request(figures) })?;
        let shown = answer.panels.iter().filter(|panel| self.setup.shows(panel.statistic));
        let lines = |panel: &spc::chart::Panel| {
            let newest = (0..panel.len()).rev().map(|i| panel.point(i)).find(|point| point.value.get().is_some());
            let point = newest.unwrap_or_default();
            let (center, lower, upper) = (point.center.get(), point.lower.get(), point.upper.get());
            PathLines { panel: panel.statistic, center, lower, upper }
        };
        let lines = shown.map(lines).collect();
        let beyond = |point: &PanelPoint| {
            let value = point.value.get().unwrap_or(f64::NAN);
            point.upper.get().is_some_and(|upper| value > upper) || point.lower.get().is_some_and(|lower| value < lower)
        };
        let counted: Vec<usize> = (0..self.places.len()).filter(|&i| self.places[i].counts()).collect();
        let is_out = |&&i: &&usize| answer.panels.iter().any(|panel| beyond(&panel.point(i)));
        let out = counted.iter().filter(is_out).count();
        Ok(PathLimits { figures, baseline, sigma_method, lines, out, of: counted.len() })
    }

    /// The latest points as they are drawn.
    fn drawn(&self, revised: Option<Estimate>) -> Result<Drawing, StoreError> {
        let request = match revised {
            Some(found) => self.request(found.figures),
            // Too few points for limits: only what was measured is drawn.
            None => ChartRequest { limits: vec![Limits::ESTIMATED], rules: None, ..self.request(Figures::default()) },
        };
        let answer = compute(&request)?;
        let hidden = self.points.len().saturating_sub(POINTS_AT_MOST as usize);
        Ok(Drawing::of(self.setup, self.points, &answer, hidden))
    }

    /// Points that break rules, and points set aside.
    fn findings(&self, revised: Option<Estimate>) -> Result<Vec<PathPoint>, StoreError> {
        let signals: Vec<Signal> = match revised {
            Some(found) => compute(&self.request(found.figures))?.signals,
            None => vec![],
        };
        let number = |i: usize| self.points[i].number;
        let mut found = Vec::new();
        for (i, point) in self.points.iter().enumerate() {
            let Some(sample) = point.sample else { continue };
            let breaks = |s: &&Signal| (s.at..=s.to).contains(&i) && self.setup.shows(s.panel);
            let finding = |s: &Signal| PathFinding {
                panel: s.panel,
                rule: s.rule,
                side: s.side,
                from_number: number(s.from),
                to_number: number(s.to),
            };
            let broken: Vec<PathFinding> =
                signals.iter().filter(breaks).filter(|_| point.place.counts()).map(finding).collect();
            if !broken.is_empty() || point.place.aside {
                found.push(PathPoint { sample, number: point.number, broken });
            }
        }
        Ok(found)
    }
}
