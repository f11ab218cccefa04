//! What is said of a point: set aside with its cause, taken back, a restart marked or undone.

use chrono::Duration;
use quality::field::{Allowed, WrongField, optional_text, text};
use quality::limits::LimitsRefusal;
use quality::object::ObjectKind;
use quality::signal::WithdrawnReason;
use quality::trail::Action;
use serde_json::json;
use uuid::Uuid;

use super::made::{Made, Making};
use super::sample::Sample;
use crate::StoreError;
use crate::judging::Range;
use crate::phases::holding;
use crate::series::Stretch;

impl Making<'_> {
    /// The point alone: what judging it touches is found from there.
    fn only(&self, sample: &Sample, reason: WithdrawnReason) -> Made {
        let range = Range { from: Some(sample.rank()), before: Some(sample.taken_at + Duration::microseconds(1)) };
        Made { range: Some(range), reason, sample: Some(sample.id), counts: None }
    }

    pub(super) async fn set_aside(
        &mut self,
        id: Uuid,
        cause: Option<Uuid>,
        cause_text: Option<&str>,
    ) -> Result<Made, StoreError> {
        let cause_text = optional_text("cause_text", cause_text)?;
        if cause.is_some() == cause_text.is_some() {
            return Err(WrongField::new("cause", Allowed::OneCause).into());
        }
        let characteristic = self.setup.id;
        let sample = Sample::measured(self.act.conn(), characteristic, id).await?;
        if sample.aside {
            return Err(LimitsRefusal::SaidAlready.into());
        }
        let schemes = self.setup.schemes();
        let held = holding(self.phases, sample.taken_at);
        let stretch = Stretch::of_phase(self.setup, &schemes, self.phases, held);
        if stretch.used(self.act.conn()).await? <= 1 {
            return Err(LimitsRefusal::NothingLeft.into());
        }
        let said = match cause {
            Some(cause) => sqlx::query_scalar!("select name from cause where id = $1", cause)
                .fetch_optional(self.act.conn())
                .await?
                .ok_or(StoreError::Missing(ObjectKind::Cause))?,
            None => cause_text.clone().unwrap_or_default(),
        };
        sqlx::query!(
            "with aside as (update sample set aside = true where id = $2)
             insert into set_aside (id, sample_id, at, person_id, cause_id, cause_text) values ($1, $2, $3, $4, $5, $6)",
            Uuid::new_v4(),
            id,
            self.at,
            self.person,
            cause,
            cause_text
        )
        .execute(self.act.conn())
        .await?;
        self.did(Action::SampleSetAside, id, &json!({"number": sample.number, "cause": said}));
        Ok(self.only(&sample, WithdrawnReason::SetAside))
    }

    pub(super) async fn take_back(&mut self, id: Uuid) -> Result<Made, StoreError> {
        let sample = Sample::find(self.act.conn(), self.setup.id, id).await?;
        if !sample.aside {
            return Err(LimitsRefusal::NotSaid.into());
        }
        sqlx::query!(
            "with aside as (update sample set aside = false where id = $1)
             update set_aside set taken_back_at = $2, taken_back_by = $3
             where sample_id = $1 and taken_back_at is null",
            id,
            self.at,
            self.person
        )
        .execute(self.act.conn())
        .await?;
        self.did(Action::SampleTakenBack, id, &json!({"number": sample.number}));
        Ok(self.only(&sample, WithdrawnReason::TakenBack))
    }

    pub(super) async fn restart(&mut self, id: Uuid, reason: &str) -> Result<Made, StoreError> {
        let reason = text("reason", reason)?;
        let sample = Sample::find(self.act.conn(), self.setup.id, id).await?;
        if sample.restart {
            return Err(LimitsRefusal::SaidAlready.into());
        }
        sqlx::query!(
            "with restart as (update sample set restart = true where id = $2)
             insert into restart (id, sample_id, at, person_id, reason) values ($1, $2, $3, $4, $5)",
            Uuid::new_v4(),
            id,
            self.at,
            self.person,
            reason
        )
        .execute(self.act.conn())
        .await?;
        self.did(Action::RestartMarked, id, &json!({"number": sample.number, "reason": reason}));
        Ok(self.only(&sample, WithdrawnReason::Restart))
    }

    pub(super) async fn undo_restart(&mut self, id: Uuid) -> Result<Made, StoreError> {
        let sample = Sample::find(self.act.conn(), self.setup.id, id).await?;
        if !sample.restart {
            return Err(LimitsRefusal::NotSaid.into());
        }
        let undone = sqlx::query_scalar!(
            r#"with restart as (update sample set restart = false where id = $1),
                  undone as (update restart set undone_at = $2, undone_by = $3
                             where sample_id = $1 and undone_at is null returning id)
               -- A sample that comes late does not bring it back.
               update planned_restart set dropped = true from undone where restart_id = undone.id and not dropped
               returning answer_id"#,
            id,
            self.at,
            self.person
        )
        .fetch_all(self.act.conn())
        .await?;
        for answer in undone {
            self.did(Action::RestartDropped, answer, &json!({}));
        }
        self.did(Action::RestartUndone, id, &json!({"number": sample.number}));
        Ok(self.only(&sample, WithdrawnReason::Restart))
    }
}
