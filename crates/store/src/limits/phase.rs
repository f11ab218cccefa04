//! Phases started, moved, merged, renamed.

use chrono::{DateTime, Duration, Utc};
use quality::field::name;
use quality::limits::{Basis, LimitsAct, LimitsRefusal, NewLimits};
use quality::signal::WithdrawnReason;
use quality::trail::Action;
use serde_json::json;
use uuid::Uuid;

use super::change::PhaseLimits;
use super::freeze::carried;
use super::made::{Made, Making};
use super::sample::Sample;
use super::start::{NewPhase, begin_phase};
use crate::StoreError;
use crate::judging::Range;
use crate::phases::holding;
use crate::series::Rank;

/// The shortest time that the database keeps.
fn instant() -> Duration {
    Duration::microseconds(1)
}

impl Making<'_> {
    /// All points of a phase, as they are judged again.
    pub(super) fn range_of(&self, held: usize) -> Range {
        let start = self.phases.get(held).filter(|_| held > 0).map(|phase| (phase.starts_at, 0));
        Range { from: start, before: self.phases.get(held + 1).map(|phase| phase.starts_at) }
    }

    /// Points from the one before a boundary on, which ends patterns there, up to the end of the phase.
    pub(super) async fn range_around(&mut self, boundary: DateTime<Utc>) -> Result<Range, StoreError> {
        let ends = self.phases.iter().map(|phase| phase.starts_at).find(|starts| *starts > boundary);
        let before = self.last_before(boundary).await?;
        Ok(Range { from: Some(before.unwrap_or((boundary, 0))), before: ends })
    }

    async fn last_before(&mut self, boundary: DateTime<Utc>) -> Result<Option<Rank>, StoreError> {
        let found = sqlx::query!(
            "select taken_at, number from sample where characteristic_id = $1 and taken_at < $2
             order by taken_at desc, number desc limit 1",
            self.setup.id,
            boundary
        )
        .fetch_optional(self.act.conn())
        .await?;
        Ok(found.map(|row| (row.taken_at, row.number)))
    }

    /// Whether a phase may begin at `starts_at` within the phase `held`: some of its points stay behind.
    pub(super) async fn may_begin(&mut self, held: usize, starts_at: DateTime<Utc>) -> Result<(), StoreError> {
        if self.phases.iter().any(|phase| phase.starts_at == starts_at) {
            return Err(LimitsRefusal::PhaseThere.into());
        }
        let next = self.phases.get(held + 1).map(|phase| phase.starts_at);
        let begins = self.phases.get(held).filter(|_| held > 0).map(|phase| phase.starts_at);
        let before = self.last_before(starts_at).await?;
        let left = before.is_some_and(|(at, _)| begins.is_none_or(|begins| begins <= at));
        if !left || next.is_some_and(|next| next <= starts_at) {
            return Err(LimitsRefusal::EmptyPhase.into());
        }
        Ok(())
    }

    pub(super) async fn start_phase(
        &mut self,
        sample: Uuid,
        given: &str,
        limits: &PhaseLimits,
    ) -> Result<Made, StoreError> {
        let name = name("name", given)?;
        let characteristic = self.setup.id;
        let sample = Sample::measured(self.act.conn(), characteristic, sample).await?;
        let held = holding(self.phases, sample.taken_at);
        self.may_begin(held, sample.taken_at).await?;
        self.phases[held].state.after(LimitsAct::StartPhase)?;
        let phase = NewPhase { characteristic, name: &name, starts_at: sample.taken_at };
        let new = begin_phase(self.act, &self.setup.characteristic, phase, (Some(self.person), self.at)).await?;
        match limits {
            PhaseLimits::Trial => {}
            PhaseLimits::Carried => {
                let from = carried(&self.phases[held])?.limits;
                self.carry(from, new).await?;
            }
            PhaseLimits::Given { figures, source } => {
                let basis = Basis::Given { figures: *figures, source: source.clone() };
                let given = NewLimits { basis, ..NewLimits::of_phase(&name) }.check()?;
                let frozen = self.frozen(held, &given).await?;
                self.freeze(new, &given, &frozen).await?;
            }
        }
        let range = self.range_around(sample.taken_at).await?;
        Ok(Made { range: Some(range), reason: WithdrawnReason::Phase, sample: Some(sample.id), counts: None })
    }

    /// Lets limits be those that others are.
    async fn carry(&mut self, from: Uuid, to: Uuid) -> Result<(), StoreError> {
        let row = sqlx::query!(
            r#"update limits l set state = 'in_force', center = o.center, sigma = o.sigma,
                   sigma_between = o.sigma_between, mean_n = o.mean_n, shape = o.shape, scale = o.scale, lower = o.lower,
                   upper = o.upper, baseline_points = o.baseline_points, baseline_size = o.baseline_size,
                   sigma_method = o.sigma_method, basis = o.basis, name = o.name, remark = o.remark, reason = o.reason,
                   next_look = o.next_look, put_in_force_at = $3, put_in_force_by = $4
               from limits o where o.id = $1 and l.id = $2
               returning l.center, l.sigma, l.sigma_between, l.mean_n, l.shape, l.scale, l.lower, l.upper, l.name as "name!""#,
            from,
            to,
            self.at,
            self.person
        )
        .fetch_one(self.act.conn())
        .await?;
        let detail = json!({"name": row.name, "carried": from, "center": row.center, "sigma": row.sigma,
                            "sigma_between": row.sigma_between, "mean_n": row.mean_n, "shape": row.shape,
                            "scale": row.scale, "lower": row.lower, "upper": row.upper});
        self.did(Action::LimitsPutInForce, to, &detail);
        Ok(())
    }

    pub(super) async fn move_start(&mut self, phase: Uuid, sample: Uuid) -> Result<Made, StoreError> {
        let held = self.place_of(phase)?;
        if held == 0 {
            return Err(LimitsRefusal::FirstPhase.into());
        }
        self.phases[held].state.after(LimitsAct::MoveStart)?;
        let sample = Sample::measured(self.act.conn(), self.setup.id, sample).await?;
        let (old, new) = (self.phases[held].starts_at, sample.taken_at);
        if self.phases.iter().any(|phase| phase.starts_at == new) {
            return Err(LimitsRefusal::PhaseThere.into());
        }
        // Between the start of the phase before, some of whose points stay, and that of the next.
        let begins = self.phases.get(held - 1).filter(|_| held > 1).map(|phase| phase.starts_at);
        let left = self.last_before(new).await?.is_some_and(|(at, _)| begins.is_none_or(|begins| begins <= at));
        if !left || self.phases.get(held + 1).is_some_and(|next| next.starts_at <= new) {
            return Err(LimitsRefusal::EmptyPhase.into());
        }
        sqlx::query!("update phase set starts_at = $2 where id = $1", phase, new).execute(self.act.conn()).await?;
        self.did(Action::PhaseMoved, phase, &json!({"old": {"starts_at": old}, "new": {"starts_at": new}}));
        let from = self.last_before(old.min(new)).await?.unwrap_or((old.min(new), 0));
        let range = Range { from: Some(from), before: Some(old.max(new) + instant()) };
        Ok(Made { range: Some(range), reason: WithdrawnReason::Phase, sample: Some(sample.id), counts: None })
    }

    pub(super) async fn merge(&mut self, phase: Uuid) -> Result<Made, StoreError> {
        let held = self.place_of(phase)?;
        if held == 0 {
            return Err(LimitsRefusal::FirstPhase.into());
        }
        self.phases[held].state.after(LimitsAct::Merge)?;
        sqlx::query!(
            "with gone as (update phase set merged_at = $2 where id = $1)
             update limits set state = 'retired' where phase_id = $1 and state <> 'retired'",
            phase,
            self.at
        )
        .execute(self.act.conn())
        .await?;
        let into = self.phases[held - 1].id;
        self.did(Action::PhaseMerged, phase, &json!({"into": into}));
        let range = self.range_of(held);
        Ok(Made { range: Some(range), reason: WithdrawnReason::Phase, sample: None, counts: None })
    }

    pub(super) async fn rename(&mut self, phase: Uuid, given: &str) -> Result<Made, StoreError> {
        let held = self.place_of(phase)?;
        self.phases[held].state.after(LimitsAct::Rename)?;
        let name = name("name", given)?;
        sqlx::query!("update phase set name = $2 where id = $1", phase, name).execute(self.act.conn()).await?;
        let old = &self.phases[held].name;
        self.did(Action::PhaseRenamed, phase, &json!({"old": {"name": old}, "new": {"name": name}}));
        Ok(Made { range: None, reason: WithdrawnReason::Phase, sample: None, counts: None })
    }
}
