//! What judging changes about signals.

use quality::judging::{self, Change, StandingSignal};
use quality::object::ObjectKind;
use quality::signal::SignalState;
use quality::trail::{Action, Deed};
use serde_json::json;
use spc::rules::Rule;
use sqlx::PgConnection;
use sqlx::types::Json;
use uuid::Uuid;

use super::basis::{Basis, Because, End, Stands};
use super::raised::Raised;
use crate::series::Window;
use crate::{StoreError, word};

/// Signals whose flagged points may lie in the window.
pub(crate) async fn standing(
    conn: &mut PgConnection,
    characteristic: Uuid,
    window: &Window,
) -> Result<Vec<Stands>, StoreError> {
    let Some((first, last)) = window.points.first().zip(window.points.last()) else { return Ok(vec![]) };
    if !window.may_hold_signals() {
        return Ok(vec![]);
    }
    sqlx::query!(
        r#"select g.id, panel, rule as "rule: Json<Rule>", side, to_sample, at_taken_at, to_taken_at, state,
                  g.withdrawn_at, g.trial, f.taken_at as from_taken_at, f.number as from_number, a.number as at_number,
                  t.number as to_number
           from signal g
           -- Each looked up by itself, however few there are on the whole when this is planned.
           cross join lateral (select taken_at, number from sample where id = g.from_sample limit 1) f
           cross join lateral (select number from sample where id = g.at_sample limit 1) a
           cross join lateral (select number from sample where id = g.to_sample limit 1) t
           where g.characteristic_id = $1 and to_taken_at >= $2 and at_taken_at <= $3 and g.run_id is null
           order by at_taken_at, a.number, raised_at, g.id"#,
        characteristic,
        first.taken_at,
        last.taken_at
    )
    .fetch_all(conn)
    .await?
    .into_iter()
    // What begins in an earlier phase is judged with that one; what was reviewed stays as it was seen.
    .filter(|row| !window.begins_here || row.state == "reviewed" || (row.at_taken_at, row.at_number) >= first.rank())
    .map(|row| {
        let as_seen = StandingSignal {
            id: row.id,
            panel: word::value(row.panel)?,
            rule: row.rule.0,
            side: row.side.map(word::value).transpose()?,
            from: window.lies((row.from_taken_at, row.from_number), true),
            at: window.lies((row.at_taken_at, row.at_number), true),
            to: window.lies((row.to_taken_at, row.to_number), false),
            reviewed: word::value::<SignalState>(row.state)? == SignalState::Reviewed,
            withdrawn: row.withdrawn_at.is_some(),
        };
        Ok(Stands { as_seen, end: End { sample: row.to_sample, taken_at: row.to_taken_at }, trial: row.trial })
    })
    .collect()
}

/// Stores a change, a new signal among those that are still to be written; gives the signal and what the trail says.
pub(crate) async fn apply(
    conn: &mut PgConnection,
    basis: &Basis<'_>,
    (window, standing): (&Window, &[Stands]),
    change: Change,
    raised: &mut Raised,
) -> Result<(Uuid, Deed), StoreError> {
    let sample_at = |i: usize| window.points[i].sample.ok_or(StoreError::Missing(ObjectKind::Sample));
    let end_of = |end: judging::End| match end {
        judging::End::At(i) => Ok(End { sample: sample_at(i)?, taken_at: window.points[i].taken_at }),
        judging::End::Of(signal) => standing
            .iter()
            .find(|stands| stands.as_seen.id == signal)
            .map(|stands| stands.end)
            .ok_or(StoreError::Corrupt("a pattern that ends as no signal does".into())),
    };
    let because = basis.because;
    let deed = |action, signal, detail| Deed::new(because.at, None, action, signal, &detail);
    match change {
        Change::Raise { finding, end } => raised.take(basis, window, finding, end_of(end)?),
        Change::Grow { signal, end } => {
            let (old, new) = (end_of(judging::End::Of(signal))?, end_of(end)?);
            end_at(conn, signal, new).await?;
            let mut detail = json!({"old": {"to": old.sample}, "new": {"to": new.sample}});
            if basis.state_of_new(new) == SignalState::Open && now_asks(conn, signal).await? {
                detail["new"]["state"] = json!(SignalState::Open);
            }
            Ok((signal, deed(Action::SignalGrown, signal, detail)))
        }
        Change::Reshape { signal, start, end } => {
            if let Some((from, at)) = start {
                sqlx::query!(
                    "update signal set from_sample = $2, at_sample = $3, at_taken_at = $4 where id = $1",
                    signal,
                    sample_at(from)?,
                    sample_at(at)?,
                    window.points[at].taken_at
                )
                .execute(&mut *conn)
                .await?;
            }
            let end = end.map(end_of).transpose()?;
            if let Some(end) = end {
                end_at(conn, signal, end).await?;
            }
            let places = |i: Option<usize>| i.map(sample_at).transpose();
            let detail = json!({"because": because.said()?,
                                "new": {"from": places(start.map(|s| s.0))?, "at": places(start.map(|s| s.1))?,
                                        "to": end.map(|end| end.sample)}});
            Ok((signal, deed(Action::SignalReshaped, signal, detail)))
        }
        Change::TakeUp { signal, start: (from, at), end } => {
            let start = End { sample: sample_at(at)?, taken_at: window.points[at].taken_at };
            Ok((signal, take_up(conn, signal, (sample_at(from)?, start, end_of(end)?), because).await?))
        }
        Change::Withdraw { signal, joined } => {
            let counted = standing.iter().any(|stands| stands.as_seen.id == signal && !stands.trial);
            let cleared_by = because.person.filter(|_| counted && joined.is_none() && because.reason.is_reviewed());
            Ok((signal, withdraw(conn, signal, joined, cleared_by, because).await?))
        }
    }
}

/// The finding of a signal holds again, from its first sample over the flagged one to the last.
pub(super) async fn take_up(
    conn: &mut PgConnection,
    signal: Uuid,
    (from, at, to): (Uuid, End, End),
    because: Because,
) -> Result<Deed, StoreError> {
    let state = sqlx::query_scalar!(
        // As it stood: answered where its last answer was not sent back.
        r#"with last as (select a.person_id, exists (select from review_of o join review r on r.id = o.review_id
                   where o.answer_id = a.id and o.signal_id = $1 and r.decision = 'sent_back') as back
               from answer_of o join answer a on a.id = o.answer_id where o.signal_id = $1
               order by a.at desc limit 1)
           update signal set withdrawn_at = null, withdrawn_because = null, withdrawn_reason = null,
               cleared_by = null, from_sample = $2, at_sample = $3, at_taken_at = $4,
               to_sample = $5, to_taken_at = $6, answered_by = (select person_id from last where not back),
               state = coalesce((select case when back then 'sent_back' else 'answered' end from last),
                   case when found_late then 'found_late' else 'open' end)
           where id = $1 returning state"#,
        signal,
        from,
        at.sample,
        at.taken_at,
        to.sample,
        to.taken_at
    )
    .fetch_one(conn)
    .await?;
    let new = json!({"from": from, "at": at.sample, "to": to.sample, "state": state});
    let detail = json!({"because": because.said()?, "new": new});
    Ok(Deed::new(because.at, None, Action::SignalTakenUp, signal, &detail))
}

/// The finding of a signal holds no more; it may have become part of another, or a person may have made it go away.
pub(super) async fn withdraw(
    conn: &mut PgConnection,
    signal: Uuid,
    joined: Option<Uuid>,
    cleared_by: Option<Uuid>,
    because: Because,
) -> Result<Deed, StoreError> {
    let state = sqlx::query_scalar!(
        // One that was sent back was answered once: it is reviewed with the remark that it is gone. And so is one
        // that a person made go away.
        r#"with last as (select a.person_id from answer_of o join answer a on a.id = o.answer_id
                         where o.signal_id = $1 order by a.at desc limit 1)
           update signal set withdrawn_at = $2, withdrawn_because = $3, withdrawn_reason = $4, cleared_by = $5,
               answered_by = coalesce(answered_by, (select person_id from last), $5),
               state = case when state in ('open', 'sent_back', 'found_late')
                   and (exists (select from last) or $5::uuid is not null) then 'answered' else state end
           where id = $1 returning state"#,
        signal,
        because.at,
        because.sample,
        word::word(because.reason)?,
        cleared_by
    )
    .fetch_one(conn)
    .await?;
    let detail = json!({"because": because.said()?, "joined": joined, "new": {"state": state}});
    Ok(Deed::new(because.at, None, Action::SignalWithdrawn, signal, &detail))
}

/// What was found late goes on now, so a technician is asked after all.
async fn now_asks(conn: &mut PgConnection, signal: Uuid) -> Result<bool, StoreError> {
    let asks = sqlx::query!(
        "update signal set state = 'open', found_late = false where id = $1 and state = 'found_late'",
        signal
    );
    Ok(asks.execute(conn).await?.rows_affected() > 0)
}

/// Lets a signal end at another sample.
async fn end_at(conn: &mut PgConnection, signal: Uuid, end: End) -> Result<(), StoreError> {
    sqlx::query!("update signal set to_sample = $2, to_taken_at = $3 where id = $1", signal, end.sample, end.taken_at)
        .execute(conn)
        .await?;
    Ok(())
}
