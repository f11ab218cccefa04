//! Putting limits in force.

use std::collections::HashSet;

use quality::analyte::OWN_FROM;
use quality::field::{Allowed, WrongField};
use quality::limits::{
    Basis, Estimate, LimitsAct, LimitsRefusal, LimitsState, NewLimits, SigmaSource, TRIAL_POINTS_AT_LEAST, estimate,
    unfit,
};
use quality::object::ObjectKind;
use quality::place::Place;
use quality::signal::WithdrawnReason;
use quality::trail::Action;
use serde_json::json;
use sqlx::PgConnection;
use uuid::Uuid;

use super::made::{Made, Making};
use super::sample::Sample;
use super::start::{NewPhase, begin_phase};
use crate::bench::rejected;
use crate::characteristics::CharacteristicView;
use crate::phases::{Phase, phases};
use crate::series::Stretch;
use crate::{StoreError, word};

/// Figures that will be frozen, and how sigma came about.
pub(super) struct Frozen {
    estimate: Estimate,
    /// Nothing where they were given.
    rests: bool,
    source: SigmaSource,
}

impl Making<'_> {
    pub(super) async fn put_in_force(&mut self, phase: Uuid, given: &NewLimits) -> Result<Made, StoreError> {
        let new = given.clone().check()?;
        let held = self.place_of(phase)?;
        let frozen = self.frozen(held, &new).await?;
        if self.phases[held].state == LimitsState::InForce {
            return self.revised(held, &new, &frozen).await;
        }
        self.phases[held].state.after(LimitsAct::PutInForce)?;
        let limits = self.phases[held].limits;
        self.freeze(limits, &new, &frozen).await?;
        let range = self.range_of(held);
        Ok(Made { range: Some(range), reason: WithdrawnReason::Limits, sample: None, counts: Some(limits) })
    }

    /// Limits that revise some in force begin a phase of their own.
    async fn revised(&mut self, held: usize, new: &NewLimits, frozen: &Frozen) -> Result<Made, StoreError> {
        self.phases[held].state.after(LimitsAct::StartPhase)?;
        let characteristic = self.setup.id;
        let starts_at = match new.first {
            Some(first) => Sample::find(self.act.conn(), characteristic, first).await?.taken_at,
            None => self.at,
        };
        self.may_begin(held, starts_at).await?;
        let phase = NewPhase { characteristic, name: &new.name, starts_at };
        let limits = begin_phase(self.act, &self.setup.characteristic, phase, (Some(self.person), self.at)).await?;
        self.freeze(limits, new, frozen).await?;
        let range = self.range_around(starts_at).await?;
        Ok(Made { range: Some(range), reason: WithdrawnReason::Limits, sample: None, counts: None })
    }

    pub(super) fn place_of(&self, phase: Uuid) -> Result<usize, StoreError> {
        self.phases.iter().position(|p| p.id == phase).ok_or(StoreError::Missing(ObjectKind::Phase))
    }

    /// The figures to freeze.
    pub(super) async fn frozen(&mut self, held: usize, new: &NewLimits) -> Result<Frozen, StoreError> {
        let characteristic = &self.setup.characteristic;
        let scheme = characteristic.scheme();
        let mut frozen = match &new.basis {
            Basis::Given { figures, .. } => Frozen::given(*figures, SigmaSource::Given),
            Basis::Copied { characteristic } => {
                let of = phases(self.act.conn(), *characteristic).await?;
                let last = of.last().filter(|phase| phase.state == LimitsState::InForce);
                let copied = last.ok_or(LimitsRefusal::NotInForce)?;
                let mut frozen = Frozen::given(copied.figures.unwrap_or_default(), copied.sigma_method);
                if let Some(baseline) = copied.baseline {
                    frozen = Frozen { estimate: Estimate { baseline, ..frozen.estimate }, rests: true, ..frozen };
                }
                frozen
            }
            basis => {
                let places = self.chosen(held, basis).await?;
                let found = places.iter().filter(|place| place.counts()).count();
                let needed = if self.setup.analyte.is_some() { OWN_FROM } else { TRIAL_POINTS_AT_LEAST };
                let few = LimitsRefusal::TooFewPoints { needed, found };
                let estimate = estimate(characteristic, &places).filter(|_| found >= needed).ok_or(few)?;
                if new.reason.is_none() && !unfit(characteristic, &places, &estimate).is_empty() {
                    return Err(LimitsRefusal::ReasonNeeded.into());
                }
                let source = SigmaSource::of(&scheme, characteristic.subgroup_size);
                Frozen { estimate, rests: true, source }
            }
        };
        let figures = &mut frozen.estimate.figures;
        (figures.lower, figures.upper) = (new.lower.or(figures.lower), new.upper.or(figures.upper));
        let checked = scheme.chart.check_figures(figures, ToOwned::to_owned);
        checked.map_err(|problem| wrong_figure(&problem.path))?;
        Ok(frozen)
    }

    /// The places that limits are estimated from; those that are not chosen are left out.
    async fn chosen(&mut self, held: usize, basis: &Basis) -> Result<Vec<Place>, StoreError> {
        let schemes = self.setup.schemes();
        let stretch = Stretch::of_phase(self.setup, &schemes, self.phases, held);
        let points = stretch.whole(self.act.conn()).await?;
        let rejected = not_accepted(self.act.conn(), self.setup).await?;
        let place_of = |sample: &Uuid| {
            points.iter().position(|p| p.sample == Some(*sample)).ok_or(StoreError::Missing(ObjectKind::Sample))
        };
        let used: Vec<bool> = match basis {
            Basis::Stretch { first, last } => {
                let (first, last) = (place_of(first)?, place_of(last)?);
                if first > last {
                    return Err(WrongField::new("first", Allowed::FirstBeforeLast).into());
                }
                (0..points.len()).map(|i| (first..=last).contains(&i)).collect()
            }
            Basis::Chosen { samples } => {
                samples.iter().try_for_each(|sample| place_of(sample).map(|_| ()))?;
                let samples: HashSet<Uuid> = samples.iter().copied().collect();
                points.iter().map(|point| point.sample.is_some_and(|sample| samples.contains(&sample))).collect()
            }
            _ => vec![true; points.len()],
        };
        let place = |(point, used): (crate::series::SeriesPoint, bool)| {
            let accepted = point.sample.is_none_or(|sample| !rejected.contains(&sample));
            let aside = point.place.aside || !used || !accepted;
            Place { aside, ..point.place }
        };
        Ok(points.into_iter().zip(used).map(place).collect())
    }

    pub(super) async fn freeze(&mut self, limits: Uuid, new: &NewLimits, frozen: &Frozen) -> Result<(), StoreError> {
        let Frozen { estimate: Estimate { figures, baseline }, rests, source } = frozen;
        let points = rests.then(|| i32::try_from(baseline.points).unwrap_or(i32::MAX));
        sqlx::query!(
            "update limits set state = 'in_force', center = $2, sigma = $3, sigma_between = $4, mean_n = $5, shape = $6,
                 scale = $7, lower = $8, upper = $9, baseline_points = $10, baseline_size = $11, sigma_method = $12,
                 basis = $13, name = $14, remark = $15, reason = $16, next_look = $17, put_in_force_at = $18,
                 put_in_force_by = $19
             where id = $1",
            limits,
            figures.center,
            figures.sigma,
            figures.sigma_between,
            figures.mean_n,
            figures.shape,
            figures.scale,
            figures.lower,
            figures.upper,
            points,
            rests.then_some(baseline.size),
            word::word(*source)?,
            serde_json::to_value(&new.basis)?,
            new.name,
            new.remark,
            new.reason,
            new.next_look,
            self.at,
            self.person
        )
        .execute(self.act.conn())
        .await?;
        let mut detail = json!({"name": new.name, "basis": new.basis, "used": points, "remark": new.remark,
                                "reason": new.reason});
        if let (Some(detail), Some(figures)) = (detail.as_object_mut(), serde_json::to_value(figures)?.as_object()) {
            detail.extend(figures.clone());
        }
        self.did(Action::LimitsPutInForce, limits, &detail);
        Ok(())
    }
}

impl Frozen {
    fn given(figures: spc::chart::Figures, source: SigmaSource) -> Self {
        let baseline = quality::limits::Baseline { points: 0, size: 0.0 };
        Self { estimate: Estimate { figures, baseline }, rests: false, source }
    }
}

/// Results of a level that no figures of its own rest on: those of rejected runs.
pub(super) async fn not_accepted(
    conn: &mut PgConnection,
    setup: &CharacteristicView,
) -> Result<HashSet<Uuid>, StoreError> {
    if setup.analyte.is_none() {
        return Ok(HashSet::new());
    }
    rejected(conn, setup.id).await
}

/// A figure that cannot be, at its field.
fn wrong_figure(name: &str) -> LimitsRefusal {
    let of = |field| LimitsRefusal::Field(WrongField::new(field, Allowed::FigureOfTheChart));
    match name {
        "sigma" => of("sigma"),
        "sigma_between" => of("sigma_between"),
        "mean_n" => of("mean_n"),
        "shape" => of("shape"),
        "scale" => of("scale"),
        "lower" => LimitsRefusal::Field(WrongField::new("lower", Allowed::LowerBelowUpper)),
        _ => of("center"),
    }
}

/// Whether a phase has figures that another can begin with.
pub(super) fn carried(phase: &Phase) -> Result<&Phase, LimitsRefusal> {
    if phase.state == LimitsState::Trial { Err(LimitsRefusal::NotInForce) } else { Ok(phase) }
}
