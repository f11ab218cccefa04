//! Keeping limits that were to be looked at.

use chrono::NaiveDate;
use quality::field::{Allowed, WrongField, text};
use quality::limits::LimitsAct;
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
}
