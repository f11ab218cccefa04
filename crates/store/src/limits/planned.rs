//! Restarts that answers ask for: "the process was corrected" holds from the first sample that was taken afterwards,
//! which may be there already, or come late, or not have come yet.

use chrono::{DateTime, Utc};
use quality::trail::{Action, Deed};
use serde_json::json;
use sqlx::PgConnection;
use uuid::Uuid;

use super::change::LimitsChange;
use super::made::make;
use crate::StoreError;
use crate::act::Act;
use crate::judging::judge_again;
use crate::news::News;
use crate::phases::phases;
use crate::series::Rank;

/// A correction of the process, as an answer tells it.
#[derive(Debug)]
pub(crate) struct Correction {
    pub answer: Uuid,
    pub corrected_at: DateTime<Utc>,
    /// What was done.
    pub what: String,
}

/// Plans the restart after a correction; where samples were taken since, rules start afresh at the first of them.
pub(crate) async fn plan_restart(
    act: &mut Act,
    characteristic: Uuid,
    Correction { answer, corrected_at, what }: &Correction,
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into planned_restart (answer_id, characteristic_id, corrected_at) values ($1, $2, $3)",
        answer,
        characteristic,
        corrected_at
    )
    .execute(act.conn())
    .await?;
    let deed = Deed::new(at, Some(person), Action::RestartPlanned, *answer, &json!({"corrected_at": corrected_at}));
    act.did(characteristic, deed, News::Limits { characteristic });
    let next = sqlx::query!(
        "select id, taken_at, restart from sample where characteristic_id = $1 and taken_at > $2
         order by taken_at, number limit 1",
        characteristic,
        corrected_at
    );
    let Some(next) = next.fetch_optional(act.conn()).await? else { return Ok(()) };
    if !next.restart {
        let change = LimitsChange::Restart { sample: next.id, reason: what.clone() };
        change_now(act, characteristic, &change, (person, at)).await?;
    }
    stands_at(act.conn(), &[*answer], next.id, !next.restart).await
}

/// Whether a sample that is about to be judged is the first after a correction; if so rules start afresh with it.
/// What it takes the restart from came later than it.
pub(crate) async fn begins_afresh(
    act: &mut Act,
    characteristic: Uuid,
    (sample, (taken_at, number)): (Uuid, Rank),
    at: DateTime<Utc>,
) -> Result<(), StoreError> {
    let planned = sqlx::query!(
        r#"select p.answer_id, a.person_id, a.action, r.sample_id as "from?", f.number as "from_number?"
           from planned_restart p join answer a on a.id = p.answer_id
           left join restart r on r.id = p.restart_id left join sample f on f.id = r.sample_id
           where p.characteristic_id = $1 and p.corrected_at < $2 and not p.dropped
             and (p.starts_at is null or p.starts_at > $2)
           order by p.corrected_at desc"#,
        characteristic,
        taken_at
    );
    let planned = planned.fetch_all(act.conn()).await?;
    let Some(newest) = planned.first() else { return Ok(()) };
    let answers: Vec<Uuid> = planned.iter().map(|planned| planned.answer_id).collect();
    // Those of one place were corrected before it together; a later correction keeps its own.
    for (from, from_number) in planned.iter().filter_map(|planned| planned.from.zip(planned.from_number)) {
        let left = sqlx::query_scalar!(
            r#"with left_behind as (
                   update restart set undone_at = $2, undone_by = $3 where sample_id = $1 and undone_at is null
                     and not exists (select from planned_restart p
                         where p.restart_id = restart.id and not p.dropped and p.answer_id <> all($4))
                   returning sample_id)
               update sample set restart = false from left_behind where sample.id = left_behind.sample_id
               returning sample.id"#,
            from,
            at,
            newest.person_id,
            &answers
        );
        if left.fetch_optional(act.conn()).await?.is_some() {
            let deed =
                Deed::new(at, Some(newest.person_id), Action::RestartUndone, from, &json!({"number": from_number}));
            act.did(characteristic, deed, News::Limits { characteristic });
        }
    }
    sqlx::query!(
        "with restart as (update sample set restart = true where id = $2)
         insert into restart (id, sample_id, at, person_id, reason) values ($1, $2, $3, $4, $5)",
        Uuid::new_v4(),
        sample,
        at,
        newest.person_id,
        newest.action
    )
    .execute(act.conn())
    .await?;
    let detail = json!({"number": number, "reason": newest.action, "answer": newest.answer_id});
    let deed = Deed::new(at, Some(newest.person_id), Action::RestartMarked, sample, &detail);
    act.did(characteristic, deed, News::Limits { characteristic });
    stands_at(act.conn(), &answers, sample, true).await
}

/// Drops the restarts that answers asked for, unless another answer asks for the same one.
///
/// # Errors
/// When the database fails.
pub(crate) async fn drop_restarts(
    act: &mut Act,
    characteristic: Uuid,
    answers: &[Uuid],
    (person, at): (Uuid, DateTime<Utc>),
) -> Result<(), StoreError> {
    let dropped = sqlx::query!(
        r#"with dropped as (
               update planned_restart set dropped = true where answer_id = any($1) and not dropped
               returning answer_id, restart_id)
           select d.answer_id as "answer!", r.sample_id as "sample?"
           from dropped d left join restart r on r.id = d.restart_id and r.undone_at is null and not exists (
               select from planned_restart p
               where p.restart_id = r.id and not p.dropped and p.answer_id <> all($1))"#,
        answers
    )
    .fetch_all(act.conn())
    .await?;
    for row in &dropped {
        let deed = Deed::new(at, Some(person), Action::RestartDropped, row.answer, &json!({}));
        act.did(characteristic, deed, News::Limits { characteristic });
    }
    let mut samples: Vec<Uuid> = dropped.iter().filter_map(|row| row.sample).collect();
    samples.sort_unstable();
    samples.dedup();
    for sample in samples {
        change_now(act, characteristic, &LimitsChange::UndoRestart { sample }, (person, at)).await?;
    }
    Ok(())
}

/// Makes a change and judges what it touches, in this act, however much that is: the answer or the review that it
/// belongs to is kept with it or not at all.
async fn change_now(
    act: &mut Act,
    characteristic: Uuid,
    change: &LimitsChange,
    by: (Uuid, DateTime<Utc>),
) -> Result<(), StoreError> {
    let setup = act.take(characteristic).await?;
    let phases = phases(act.conn(), characteristic).await?;
    let made = make(act, &setup, &phases, change, by).await?;
    if let Some(range) = made.range {
        judge_again(act, &setup, phases, range, made.because(by.0, by.1), None).await?;
    }
    Ok(())
}

/// Planned restarts stand at a sample that bears one; one that a person had marked there is not theirs.
async fn stands_at(conn: &mut PgConnection, answers: &[Uuid], sample: Uuid, made: bool) -> Result<(), StoreError> {
    sqlx::query!(
        "update planned_restart set starts_at = s.taken_at, restart_id = r.id
         from sample s left join restart r on r.sample_id = s.id and r.undone_at is null
              and ($3 or exists (select from planned_restart p where p.restart_id = r.id and not p.dropped))
         where answer_id = any($1) and s.id = $2",
        answers,
        sample,
        made
    )
    .execute(conn)
    .await?;
    Ok(())
}
