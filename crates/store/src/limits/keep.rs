//! Keeping limits that were to be looked at, and beginning no phase where one was proposed.

use chrono::NaiveDate;
use quality::field::{Allowed, WrongField, text};
use quality::limits::LimitsAct;
use quality::object::ObjectKind;
use quality::signal::WithdrawnReason;
use quality::trail::Action;
use serde_json::json;
use uuid::Uuid;

use super::made::{Made, Making};
use crate::StoreError;

impl Making<'_> {
    /// Limits in force are kept until a date: they leave the list of limits to look at, and do not enter it before.
    pub(super) async fn keep(&mut self, phase: Uuid, reason: &str, until: NaiveDate) -> Result<Made, StoreError> {
        let held = self.place_of(phase)?;
        self.phases[held].state.after(LimitsAct::Keep)?;
        let reason = text("reason", reason)?;
        if until <= self.at.date_naive() {
            return Err(WrongField::new("until", Allowed::DayToCome).into());
        }
        let limits = self.phases[held].limits;
        sqlx::query!(
            "with left_list as (update limits_look set listed_since = null where limits_id = $2)
             insert into limits_kept (id, limits_id, at, person_id, reason, until) values ($1, $2, $3, $4, $5, $6)",
            Uuid::new_v4(),
            limits,
            self.at,
            self.person,
            reason,
            until
        )
        .execute(self.act.conn())
        .await?;
        self.did(Action::LimitsKept, limits, &json!({"reason": reason, "until": until}));
        Ok(Made { range: None, reason: WithdrawnReason::Limits, sample: None, counts: None })
    }

    /// No phase begins at an event that proposes one; it proposes none again.
    pub(super) async fn decline(&mut self, event: Uuid) -> Result<Made, StoreError> {
        let declined = sqlx::query!(
            "insert into phase_declined (characteristic_id, event_id, person_id, at)
             select c.id, e.id, $3, $4 from event e join characteristic c on c.id = $1 and c.station_id = e.station_id
             where e.id = $2 and e.kind_id = any(c.phase_events)
             on conflict do nothing",
            self.setup.id,
            event,
            self.person,
            self.at
        )
        .execute(self.act.conn())
        .await?;
        if declined.rows_affected() == 0 {
            return Err(StoreError::Missing(ObjectKind::Phase));
        }
        self.did(Action::PhaseDeclined, event, &json!({}));
        Ok(Made { range: None, reason: WithdrawnReason::Phase, sample: None, counts: None })
    }
}
