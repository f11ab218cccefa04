//! What judging changes about signals.

use chrono::{DateTime, Utc};
use quality::judging::{self, Change, StandingSignal};
use quality::limits::Figures;
use quality::object::ObjectKind;
use quality::signal::SignalState;
use quality::trail::{Action, Deed};
use serde_json::json;
use spc::chart::Signal;
use spc::rules::Rule;
use sqlx::PgConnection;
use sqlx::types::Json;
use uuid::Uuid;

use crate::window::Window;
use crate::{StoreError, word};

/// What signals are raised against.
pub(crate) struct Basis {
    pub characteristic: Uuid,
    pub limits: Uuid,
    /// Nothing where trial limits have too few points, so that nothing is raised.
    pub figures: Option<Figures>,
    pub trial: bool,
    /// Found after the sample had its place among later ones.
    pub late: bool,
    /// What happened to the sample.
    pub because: &'static str,
    pub at: DateTime<Utc>,
}

/// A signal that stands, and the sample where its pattern ends.
pub(crate) struct Stands {
    pub as_seen: StandingSignal,
    end: End,
}

/// The last sample of a pattern.
#[derive(Clone, Copy)]
struct End {
    sample: Uuid,
    taken_at: DateTime<Utc>,
}

/// Signals whose flagged points may lie in the window.
pub(crate) async fn standing(
    conn: &mut PgConnection,
    characteristic: Uuid,
    window: &Window,
) -> Result<Vec<Stands>, StoreError> {
    let Some((first, last)) = window.points.first().zip(window.points.last()) else { return Ok(vec![]) };
    sqlx::query!(
        r#"select g.id, panel, rule as "rule: Json<Rule>", side, to_sample, at_taken_at, to_taken_at, state,
                  f.taken_at as from_taken_at, f.number as from_number, a.number as at_number, t.number as to_number
           from signal g
           join sample f on f.id = from_sample join sample a on a.id = at_sample join sample t on t.id = to_sample
           where g.characteristic_id = $1 and g.withdrawn_at is null and to_taken_at >= $2 and at_taken_at <= $3
           order by at_taken_at, a.number, raised_at, g.id"#,
        characteristic,
        first.taken_at,
        last.taken_at
    )
    .fetch_all(conn)
    .await?
    .into_iter()
    .map(|row| {
        let as_seen = StandingSignal {
            id: row.id,
            panel: word::value(row.panel)?,
            rule: row.rule.0,
            side: row.side.map(word::value).transpose()?,
            from: window.place((row.from_taken_at, row.from_number), true),
            at: window.place((row.at_taken_at, row.at_number), true),
            to: window.place((row.to_taken_at, row.to_number), false),
            reviewed: word::value::<SignalState>(row.state)? == SignalState::Reviewed,
        };
        Ok(Stands { as_seen, end: End { sample: row.to_sample, taken_at: row.to_taken_at } })
    })
    .collect()
}

/// Stores a change that `sample` brought about; gives the signal and what the trail says.
pub(crate) async fn apply(
    conn: &mut PgConnection,
    basis: &Basis,
    (window, standing): (&Window, &[Stands]),
    sample: Uuid,
    change: Change,
) -> Result<(Uuid, Deed), StoreError> {
    let sample_at = |i: usize| window.points[i].sample.ok_or(StoreError::Missing(ObjectKind::Sample));
    let end_of = |end: judging::End| match end {
        judging::End::At(i) => Ok(End { sample: sample_at(i)?, taken_at: window.points[i].taken_at }),
        judging::End::Of(signal) => standing
            .iter()
            .find(|stands| stands.as_seen.id == signal)
            .map(|stands| stands.end)
            .ok_or(StoreError::Missing(ObjectKind::Signal)),
    };
    let deed = |action, signal, detail| Deed::new(basis.at, None, action, signal, &detail);
    match change {
        Change::Raise { finding, end } => raise(conn, basis, window, sample, finding, end_of(end)?).await,
        Change::Grow { signal, end } => {
            let (old, new) = (end_of(judging::End::Of(signal))?, end_of(end)?);
            // The version stays: an answer that is being typed holds for a pattern that goes on.
            end_at(conn, signal, new).await?;
            let detail = json!({"old": {"to": old.sample}, "new": {"to": new.sample}});
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
            let detail = json!({"because": {basis.because: sample},
                                "new": {"from": places(start.map(|s| s.0))?, "at": places(start.map(|s| s.1))?,
                                        "to": end.map(|end| end.sample)}});
            Ok((signal, deed(Action::SignalReshaped, signal, detail)))
        }
        Change::Withdraw { signal, joined } => {
            let state = sqlx::query_scalar!(
                // One that was sent back was answered once: it is reviewed with the remark that it is gone.
                r#"with last as (select person_id from answer where signal_id = $1 order by at desc limit 1)
                   update signal set withdrawn_at = $2, withdrawn_because = $3, version = version + 1,
                       answered_by = coalesce(answered_by, (select person_id from last)),
                       state = case when state = 'open' and exists (select from last) then 'answered' else state end
                   where id = $1 returning state"#,
                signal,
                basis.at,
                sample
            )
            .fetch_one(conn)
            .await?;
            let detail = json!({"because": {basis.because: sample}, "joined": joined, "new": {"state": state}});
            Ok((signal, deed(Action::SignalWithdrawn, signal, detail)))
        }
    }
}

/// Lets a signal end at another sample.
async fn end_at(conn: &mut PgConnection, signal: Uuid, end: End) -> Result<(), StoreError> {
    sqlx::query!("update signal set to_sample = $2, to_taken_at = $3 where id = $1", signal, end.sample, end.taken_at)
        .execute(conn)
        .await?;
    Ok(())
}

async fn raise(
    conn: &mut PgConnection,
    basis: &Basis,
    window: &Window,
    sample: Uuid,
    f: Signal,
    end: End,
) -> Result<(Uuid, Deed), StoreError> {
    let sample_at = |i: usize| window.points[i].sample.ok_or(StoreError::Missing(ObjectKind::Sample));
    let figures = basis.figures.ok_or(StoreError::Corrupt("a finding without figures to find it by".into()))?;
    let id = Uuid::new_v4();
    let side = f.side.map(word::word).transpose()?;
    sqlx::query!(
        "insert into signal (id, characteristic_id, panel, rule, side, from_sample, at_sample, to_sample,
             at_taken_at, to_taken_at, raised_at, limits_id, center, sigma, k, trial, late)
         values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17)",
        id,
        basis.characteristic,
        word::word(f.panel)?,
        serde_json::to_value(f.rule)?,
        side,
        sample_at(f.from)?,
        sample_at(f.at)?,
        end.sample,
        window.points[f.at].taken_at,
        end.taken_at,
        basis.at,
        basis.limits,
        figures.center,
        figures.sigma,
        figures.k,
        basis.trial,
        basis.late
    )
    .execute(conn)
    .await?;
    let detail = json!({"panel": f.panel, "rule": f.rule, "side": f.side, "sample": sample,
                        "center": figures.center, "sigma": figures.sigma, "trial": basis.trial,
                        "late": basis.late});
    Ok((id, Deed::new(basis.at, None, Action::SignalRaised, id, &detail)))
}
