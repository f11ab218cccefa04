//! What is kept of an episode beside its signals: where they lie, and where the least settled of them stands.

use quality::signal::SignalState;
use spc::rules::Side;
use uuid::Uuid;

use crate::act::Act;
use crate::news::News;
use crate::{StoreError, word};

/// An episode that signals are in now.
pub(super) struct Now {
    pub id: Uuid,
    pub side: Option<Side>,
    /// Signals came into it or left it.
    pub moved: bool,
}

/// Brings episodes in line with their signals: those that signals are in now, and those that were touched. Gives
/// those that ask now and did not before.
pub(super) async fn settle(
    act: &mut Act,
    characteristic: Uuid,
    touched: &[Uuid],
    now: &[Now],
) -> Result<Vec<Uuid>, StoreError> {
    let mut asking = Vec::new();
    for Now { id, side, moved } in now {
        let (before, state) = in_line(act, *id, *side, *moved).await?;
        if state.asks() && !(touched.contains(id) && before.asks()) {
            asking.push(*id);
        }
        act.tell(News::Episode { characteristic, episode: *id });
    }
    let first = now.first().map(|now| now.id);
    for id in touched.iter().filter(|id| !now.iter().any(|now| now.id == **id)) {
        left(act, *id, first).await?;
        act.tell(News::Episode { characteristic, episode: *id });
    }
    Ok(asking)
}

/// Brings one in line; gives its state before and now.
///
/// The version goes up with the state, so that an answer that is being typed holds for a pattern that goes on; and
/// where signals came or left that somebody may be reviewing.
pub(super) async fn in_line(
    act: &mut Act,
    id: Uuid,
    side: Option<Side>,
    moved: bool,
) -> Result<(SignalState, SignalState), StoreError> {
    let row = sqlx::query!(
        r#"with ordered as (
               select g.*, f.taken_at as from_taken_at, f.number as from_number, t.number as to_number,
                      array_position(array['sent_back', 'open', 'found_late', 'answered', 'reviewed'], g.state) as settled
               from signal g join sample f on f.id = g.from_sample join sample t on t.id = g.to_sample
               where g.episode_id = $1),
           -- Where an episode lies, its own characteristic says; a run is one episode of several levels.
           here as (select o.* from ordered o join episode e on e.id = $1 and e.characteristic_id = o.characteristic_id),
           -- What holds no more says nothing of where it lies, and of where it stands only while it waits for a review;
           -- where nothing holds, what was there does.
           told as (select * from here o where o.withdrawn_at is null
                    or not exists (select from here where withdrawn_at is null)),
           state as (
               select coalesce(
                   (select state from ordered where withdrawn_at is null or state = 'answered' order by settled limit 1),
                   (select state from ordered order by settled desc limit 1)) as state),
           before as (select state, gone from episode where id = $1),
           holds as (select exists (select from ordered where withdrawn_at is null) as any)
           update episode e set
               (from_taken_at, from_number) = (select from_taken_at, from_number from told order by 1, 2 limit 1),
               (to_taken_at, to_number) =
                   (select to_taken_at, to_number from told order by to_taken_at desc, to_number desc limit 1),
               raised_at = (select min(raised_at) from told),
               trial = (select bool_and(trial) from told),
               sent_back = exists (
                   select from ordered o join review_of of on of.signal_id = o.id join review r on r.id = of.review_id
                   where r.decision = 'sent_back'),
               gone = not holds.any, side = $2, joined = null, state = state.state,
               version = version + case when state.state <> before.state or before.gone = holds.any
                   or $3 and state.state in ('found_late', 'answered') then 1 else 0 end
           from state, before, holds where e.id = $1
           returning before.state as before, e.state as now"#,
        id,
        side.map(word::word).transpose()?,
        moved
    )
    .fetch_one(act.conn())
    .await?;
    Ok((word::value(row.before)?, word::value(row.now)?))
}

/// No signal that holds is left in it. Where all of them went to others it is joined to the first of those; else
/// what is withdrawn stays, and may wait for a review.
async fn left(act: &mut Act, id: Uuid, joined: Option<Uuid>) -> Result<(), StoreError> {
    let row = sqlx::query!(
        r#"select side, exists (select from signal where episode_id = $1) as "has_signals!" from episode where id = $1"#,
        id
    )
    .fetch_one(act.conn())
    .await?;
    if row.has_signals {
        in_line(act, id, row.side.map(word::value).transpose()?, true).await?;
    } else {
        sqlx::query!("update episode set gone = true, joined = $2, version = version + 1 where id = $1", id, joined)
            .execute(act.conn())
            .await?;
    }
    Ok(())
}
