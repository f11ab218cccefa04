//! Episodes of the laboratory: of one run and one analyte, whichever of its levels the signals are of.

use chrono::{DateTime, Utc};
use quality::episode::{Aspect, high_or_low};
use quality::signal::SignalState;
use spc::rules::Side;
use uuid::Uuid;

use super::member::{Beginning, Member, RunOf, Which, begin_one, join, members};
use super::settle::{Now, Settled, in_line_one};
use crate::act::Act;
use crate::news::News;
use crate::{StoreError, word};

/// Gathers signals that the judgement of a run has changed, each named with its level; gives the episodes that ask now
/// and did not before.
pub(crate) async fn gathered_in_runs(
    act: &mut Act,
    changed: &[(Uuid, Uuid)],
    at: DateTime<Utc>,
) -> Result<Vec<Uuid>, StoreError> {
    let mut asking = Vec::new();
    for (characteristic, signal) in changed {
        let signals = members(act.conn(), *characteristic, Which { ids: &[*signal], ..Which::default() }).await?;
        asking.extend(of_runs(act, *characteristic, &signals, at).await?);
    }
    Ok(asking)
}

/// Puts signals of a level into the episodes of their runs. What is in one stays there.
pub(super) async fn of_runs(
    act: &mut Act,
    characteristic: Uuid,
    signals: &[Member],
    at: DateTime<Utc>,
) -> Result<Vec<Uuid>, StoreError> {
    let mut asking = Vec::new();
    for signal in signals {
        let Some(run) = signal.run else { continue };
        let known = match signal.episode {
            Some(episode) => Some((episode, None)),
            None => standing(act, run).await?,
        };
        // What was reviewed stays as it was seen: more of it is an episode that goes on from there.
        let (id, began) = match known {
            Some((id, state)) if state != Some(SignalState::Reviewed) => (id, false),
            before => {
                let follows = before.map(|(id, _)| id);
                let (aspect, side) = (Aspect::of(spc::chart::Statistic::Individual), high_or_low(signal.side));
                let beginning = Beginning { first: signal, aspect, side, follows, run: Some(run) };
                (begin_one(act, characteristic, beginning).await?, true)
            }
        };
        join(act, characteristic, &[(signal, id)], at).await?;
        let side = side(act, id).await?;
        let Settled { before, now, .. } = in_line_one(act, Now { id, side, moved: true }).await?;
        if now.asks() && (began || !before.asks()) {
            asking.push(id);
        }
        act.tell(News::Episode { characteristic, episode: id });
    }
    asking.dedup();
    Ok(asking)
}

/// The latest episode of a run and an analyte, and where it stands.
async fn standing(act: &mut Act, of: RunOf) -> Result<Option<(Uuid, Option<SignalState>)>, StoreError> {
    let row = sqlx::query!(
        "select id, state from episode where run_id = $1 and analyte_id = $2 order by raised_at desc, id limit 1",
        of.run,
        of.analyte
    );
    let row = row.fetch_optional(act.conn()).await?;
    row.map(|row| Ok((row.id, Some(word::value(row.state)?)))).transpose()
}

/// High or low, where all that holds of it says the same.
async fn side(act: &mut Act, episode: Uuid) -> Result<Option<Side>, StoreError> {
    let sides =
        sqlx::query_scalar!("select distinct side from signal where episode_id = $1 and withdrawn_at is null", episode);
    let sides = sides.fetch_all(act.conn()).await?;
    match sides.as_slice() {
        [Some(only)] => Ok(high_or_low(Some(word::value(only.clone())?))),
        _ => Ok(None),
    }
}
