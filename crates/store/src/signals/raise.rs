//! What judging changes about signals.

use chrono::{DateTime, Utc};
use quality::judging::{Change, Place, Standing};
use quality::limits::Figures;
use quality::signal::SignalState;
use quality::trail::{Action, Deed};
use serde_json::json;
use spc::chart::Signal;
use spc::rules::Rule;
use sqlx::PgConnection;
use sqlx::types::Json;
use uuid::Uuid;

use crate::chart::ChartSignal;
use crate::window::Window;
use crate::{StoreError, word};

/// What signals are raised against.
pub(crate) struct Basis {
    pub characteristic: Uuid,
    pub limits: Uuid,
    pub figures: Figures,
    pub trial: bool,
    /// Found after the sample had its place among later ones.
    pub late: bool,
    /// What happened to the sample.
    pub because: &'static str,
    pub at: DateTime<Utc>,
}

/// Signals whose flagged points may lie in the window.
pub(crate) async fn standing(
    conn: &mut PgConnection,
    characteristic: Uuid,
    window: &Window,
) -> Result<Vec<Standing>, StoreError> {
    let Some((first, last)) = window.points.first().zip(window.points.last()) else { return Ok(vec![]) };
    let place = |sample: Uuid, taken_at: DateTime<Utc>| match window
        .points
        .iter()
        .position(|point| point.sample == Some(sample))
    {
        Some(i) => Place::At(i),
        None if taken_at <= first.taken_at => Place::Before,
        None => Place::After,
    };
    sqlx::query!(
        r#"select id, panel, rule as "rule: Json<Rule>", side, at_sample, to_sample, at_taken_at, to_taken_at, state
           from signal
           where characteristic_id = $1 and withdrawn_at is null and to_taken_at >= $2 and at_taken_at <= $3"#,
        characteristic,
        first.taken_at,
        last.taken_at
    )
    .fetch_all(conn)
    .await?
    .into_iter()
    .map(|row| {
        Ok(Standing {
            id: row.id,
            panel: word::value(row.panel)?,
            rule: row.rule.0,
            side: row.side.map(word::value).transpose()?,
            at: place(row.at_sample, row.at_taken_at),
            to: place(row.to_sample, row.to_taken_at),
            reviewed: word::value::<SignalState>(row.state)? == SignalState::Reviewed,
        })
    })
    .collect()
}

/// Stores a change that `sample` brought about; gives the signal and what the trail says.
pub(crate) async fn apply(
    conn: &mut PgConnection,
    basis: &Basis,
    window: &Window,
    sample: Uuid,
    change: Change,
) -> Result<(Uuid, Deed), StoreError> {
    let sample_at = |i: usize| window.points[i].sample.ok_or(StoreError::Missing("sample"));
    let deed = |action, signal, detail| Deed::new(basis.at, None, action, signal, &detail);
    match change {
        Change::Raise(f) => {
            let end = End { sample: sample_at(f.to)?, taken_at: window.points[f.to].taken_at };
            raise(conn, basis, window, sample, f, end).await
        }
        Change::Grow { signal, to } => {
            let to_sample = sample_at(to)?;
            // The version stays: an answer that is being typed holds for a pattern that goes on.
            let old = end_at(conn, signal, to_sample, window.points[to].taken_at).await?;
            let detail = json!({"old": {"to": old.sample}, "new": {"to": to_sample}});
            Ok((signal, deed(Action::SignalGrown, signal, detail)))
        }
        Change::Reshape { signal, start, to } => {
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
            if let Some(to) = to {
                end_at(conn, signal, sample_at(to)?, window.points[to].taken_at).await?;
            }
            let places = |i: Option<usize>| i.map(sample_at).transpose();
            let detail = json!({"because": {basis.because: sample},
                                "new": {"from": places(start.map(|s| s.0))?, "to": places(to)?}});
            Ok((signal, deed(Action::SignalReshaped, signal, detail)))
        }
        Change::Split { signal, to, rest } => {
            let end = end_at(conn, signal, sample_at(to)?, window.points[to].taken_at).await?;
            raise(conn, basis, window, sample, rest, end).await
        }
        Change::Withdraw { signal } => {
            sqlx::query!(
                "update signal set withdrawn_at = $2, withdrawn_because = $3, version = version + 1 where id = $1",
                signal,
                basis.at,
                sample
            )
            .execute(conn)
            .await?;
            Ok((signal, deed(Action::SignalWithdrawn, signal, json!({"because": {basis.because: sample}}))))
        }
    }
}

/// The last sample of a pattern.
struct End {
    sample: Uuid,
    taken_at: DateTime<Utc>,
}

/// Lets a signal end at another sample; gives where it ended.
async fn end_at(
    conn: &mut PgConnection,
    signal: Uuid,
    sample: Uuid,
    taken_at: DateTime<Utc>,
) -> Result<End, StoreError> {
    Ok(sqlx::query_as!(
        End,
        "update signal g set to_sample = $2, to_taken_at = $3
         from signal before where g.id = $1 and before.id = g.id
         returning before.to_sample as sample, before.to_taken_at as taken_at",
        signal,
        sample,
        taken_at
    )
    .fetch_one(conn)
    .await?)
}

async fn raise(
    conn: &mut PgConnection,
    basis: &Basis,
    window: &Window,
    sample: Uuid,
    f: Signal,
    end: End,
) -> Result<(Uuid, Deed), StoreError> {
    let sample_at = |i: usize| window.points[i].sample.ok_or(StoreError::Missing("sample"));
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
        basis.figures.center,
        basis.figures.sigma,
        basis.figures.k,
        basis.trial,
        basis.late
    )
    .execute(conn)
    .await?;
    let detail = json!({"panel": f.panel, "rule": f.rule, "side": f.side, "sample": sample,
                        "center": basis.figures.center, "sigma": basis.figures.sigma, "trial": basis.trial,
                        "late": basis.late});
    Ok((id, Deed::new(basis.at, None, Action::SignalRaised, id, &detail)))
}

/// Signals that touch the samples shown on a chart.
pub(crate) async fn shown(
    conn: &mut PgConnection,
    characteristic: Uuid,
    samples: &[Uuid],
    first: DateTime<Utc>,
    last: DateTime<Utc>,
) -> Result<Vec<ChartSignal>, StoreError> {
    let place = |sample: Uuid| samples.iter().position(|id| *id == sample);
    let rows = sqlx::query!(
        r#"select id, panel, rule as "rule: Json<Rule>", side, from_sample, at_sample, to_sample, state, trial
           from signal
           where characteristic_id = $1 and withdrawn_at is null and to_taken_at >= $2 and at_taken_at <= $3
           order by at_taken_at, raised_at"#,
        characteristic,
        first,
        last
    )
    .fetch_all(conn)
    .await?;
    let mut shown = Vec::with_capacity(rows.len());
    for row in rows {
        // A pattern that ends behind the last point shown is drawn to the edge.
        let to = place(row.to_sample).unwrap_or(samples.len() - 1);
        shown.push(ChartSignal {
            id: row.id,
            panel: word::value(row.panel)?,
            rule: row.rule.0,
            side: row.side.map(word::value).transpose()?,
            from: place(row.from_sample).unwrap_or(0),
            at: place(row.at_sample).unwrap_or(0),
            to,
            state: word::value(row.state)?,
            trial: row.trial,
        });
    }
    Ok(shown)
}
