//! Signals that judging raises.

use chrono::{DateTime, Utc};
use quality::object::ObjectKind;
use quality::signal::SignalState;
use quality::trail::{Action, Deed};
use serde_json::{Value, json};
use spc::chart::Signal;
use sqlx::PgConnection;
use uuid::Uuid;

use super::basis::{Basis, End, found_without};
use crate::once::compiled_once;
use crate::series::Window;
use crate::{StoreError, word};

/// Signals that are raised, written together: an import may raise thousands.
#[derive(Default)]
pub(crate) struct Raised {
    ids: Vec<Uuid>,
    panels: Vec<String>,
    rules: Vec<Value>,
    sides: Vec<Option<String>>,
    from: Vec<Uuid>,
    at: Vec<Uuid>,
    to: Vec<Uuid>,
    at_taken_at: Vec<DateTime<Utc>>,
    to_taken_at: Vec<DateTime<Utc>>,
    centers: Vec<f64>,
    k: Vec<f64>,
    states: Vec<String>,
}

impl Raised {
    /// Takes one more; gives it with what the trail says.
    pub(super) fn take(
        &mut self,
        basis: &Basis<'_>,
        window: &Window,
        f: Signal,
        end: End,
    ) -> Result<(Uuid, Deed), StoreError> {
        let sample_at = |i: usize| window.points[i].sample.ok_or(StoreError::Missing(ObjectKind::Sample));
        let figures = basis.figures()?;
        let center = figures.center.or(window.center_at(f.panel, f.at)).ok_or_else(found_without)?;
        let state = basis.state_of_new(end);
        let id = Uuid::new_v4();
        self.ids.push(id);
        self.panels.push(word::word(f.panel)?);
        self.rules.push(serde_json::to_value(f.rule)?);
        self.sides.push(f.side.map(word::word).transpose()?);
        self.from.push(sample_at(f.from)?);
        self.at.push(sample_at(f.at)?);
        self.to.push(end.sample);
        self.at_taken_at.push(window.points[f.at].taken_at);
        self.to_taken_at.push(end.taken_at);
        self.centers.push(center);
        self.k.push(basis.schemes.get(window.points[f.at].place.scheme).k);
        self.states.push(word::word(state)?);
        let detail = json!({"panel": f.panel, "rule": f.rule, "side": f.side, "sample": basis.because.sample,
                            "center": center, "sigma": figures.sigma, "trial": basis.hold.trial, "late": basis.late,
                            "state": state});
        Ok((id, Deed::new(basis.because.at, None, Action::SignalRaised, id, &detail)))
    }

    /// Writes them.
    #[compiled_once]
    pub async fn write(&self, conn: &mut PgConnection, basis: &Basis<'_>) -> Result<(), StoreError> {
        if self.ids.is_empty() {
            return Ok(());
        }
        sqlx::query!(
            "insert into signal (characteristic_id, raised_at, limits_id, sigma, trial, late, id, panel, rule, side,
                 from_sample, at_sample, to_sample, at_taken_at, to_taken_at, center, k, state, found_late)
             select $1, $2, $3, $4, $5, $6, r.*, r.state = $19
             from unnest($7::uuid[], $8::text[], $9::jsonb[], $10::text[], $11::uuid[], $12::uuid[], $13::uuid[],
                 $14::timestamptz[], $15::timestamptz[], $16::double precision[], $17::double precision[], $18::text[])
                 r (id, panel, rule, side, from_sample, at_sample, to_sample, at_taken_at, to_taken_at, center, k, state)",
            basis.characteristic,
            basis.because.at,
            basis.limits,
            basis.figures()?.sigma,
            basis.hold.trial,
            basis.late,
            &self.ids,
            &self.panels,
            &self.rules,
            &self.sides as &[Option<String>],
            &self.from,
            &self.at,
            &self.to,
            &self.at_taken_at,
            &self.to_taken_at,
            &self.centers,
            &self.k,
            &self.states,
            word::word(SignalState::FoundLate)?
        )
        .execute(conn)
        .await?;
        Ok(())
    }
}
