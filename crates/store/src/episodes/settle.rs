//! What is kept of an episode beside its signals: where they lie, and where the least settled of them stands.

use std::collections::{HashMap, HashSet};

use quality::object::ObjectKind;
use quality::signal::SignalState;
use spc::rules::Side;
use uuid::Uuid;

use super::member::tell;
use crate::act::Act;
use crate::{StoreError, word};

/// An episode that signals are in now.
pub(super) struct Now {
    pub id: Uuid,
    pub side: Option<Side>,
    /// Signals came into it or left it.
    pub moved: bool,
}

/// An episode that was brought in line.
pub(super) struct Settled {
    pub id: Uuid,
    pub before: SignalState,
    pub now: SignalState,
}

/// Brings episodes in line with their signals: those that signals are in now, and those that were touched. Gives
/// those that ask now and did not before.
pub(super) async fn settle(
    act: &mut Act,
    characteristic: Uuid,
    touched: &[Uuid],
    now: &[Now],
) -> Result<Vec<Uuid>, StoreError> {
    let was: HashSet<Uuid> = touched.iter().copied().collect();
    let place: HashMap<Uuid, usize> = now.iter().enumerate().map(|(place, now)| (now.id, place)).collect();
    let settled = in_line(act, now).await?;
    let asks = settled.iter().filter(|of| of.now.asks() && !(was.contains(&of.id) && of.before.asks()));
    let mut asking: Vec<Uuid> = asks.map(|of| of.id).collect();
    let gone: Vec<Uuid> = touched.iter().filter(|id| !place.contains_key(id)).copied().collect();
    left(act, &gone, now.first().map(|now| now.id)).await?;
    tell(act, characteristic, &now.iter().map(|now| now.id).chain(gone).collect::<Vec<_>>());
    asking.sort_by_key(|id| place.get(id));
    Ok(asking)
}

/// Brings some in line; gives their states before and now.
///
/// The version goes up with the state, so that an answer that is being typed holds for a pattern that goes on; and
/// where signals came or left that somebody may be reviewing.
pub(super) async fn in_line(act: &mut Act, episodes: &[Now]) -> Result<Vec<Settled>, StoreError> {
    if episodes.is_empty() {
        return Ok(vec![]);
    }
    let ids: Vec<Uuid> = episodes.iter().map(|now| now.id).collect();
    let sides = episodes.iter().map(|now| now.side.map(word::word).transpose()).collect::<Result<Vec<_>, _>>()?;
    let moved: Vec<bool> = episodes.iter().map(|now| now.moved).collect();
    let rows = sqlx::query!(
        r#"with asked as (
               select a.*, e.characteristic_id, e.state, e.gone
               from unnest($1::uuid[], $2::text[], $3::boolean[]) a (id, side, moved) join episode e on e.id = a.id),
           ordered as (
               select g.id, g.episode_id, g.state, g.withdrawn_at is null as holds, g.raised_at, g.trial,
                      f.taken_at as from_taken_at, f.number as from_number, t.taken_at as to_taken_at, t.number as to_number,
                      -- Where an episode lies, its own characteristic says; a run is one episode of several levels.
                      g.characteristic_id = a.characteristic_id as here,
                      array_position(array['sent_back', 'open', 'found_late', 'answered', 'reviewed'], g.state) as settled
               from asked a cross join lateral (select * from signal where episode_id = a.id offset 0) g
               cross join lateral (select taken_at, number from sample where id = g.from_sample limit 1) f
               cross join lateral (select taken_at, number from sample where id = g.to_sample limit 1) t),
           -- What holds no more says nothing of where it lies, and of where it stands only while it waits for a review;
           -- where nothing holds, what was there does.
           told as (
               select episode_id, (array_agg(from_taken_at order by from_taken_at, from_number))[1] as from_taken_at,
                      (array_agg(from_number order by from_taken_at, from_number))[1] as from_number,
                      (array_agg(to_taken_at order by to_taken_at desc, to_number desc))[1] as to_taken_at,
                      (array_agg(to_number order by to_taken_at desc, to_number desc))[1] as to_number,
                      min(raised_at) as raised_at, bool_and(trial) as trial
               from (select *, bool_or(holds) over (partition by episode_id) as any_holds from ordered where here) o
               where holds or not any_holds group by episode_id),
           stands as (
               select episode_id, bool_or(holds) as holds, coalesce(
                          (array_agg(state order by settled) filter (where holds or state = 'answered'))[1],
                          (array_agg(state order by settled desc))[1]) as state,
                      bool_or(exists (select from review_of of join review r on r.id = of.review_id
                                      where of.signal_id = ordered.id and r.decision = 'sent_back')) as sent_back
               from ordered group by episode_id)
           update episode e set
               from_taken_at = told.from_taken_at, from_number = told.from_number, to_taken_at = told.to_taken_at,
               to_number = told.to_number, raised_at = told.raised_at, trial = told.trial, sent_back = stands.sent_back,
               gone = not stands.holds, side = asked.side, joined = null, state = stands.state,
               version = version + case when stands.state <> asked.state or asked.gone = stands.holds
                   or asked.moved and stands.state in ('found_late', 'answered') then 1 else 0 end
           from asked join stands on stands.episode_id = asked.id left join told on told.episode_id = asked.id
           where e.id = asked.id
           returning e.id, asked.state as before, e.state as now"#,
        &ids,
        &sides as &[Option<String>],
        &moved
    )
    .fetch_all(act.conn())
    .await?;
    if rows.len() < ids.len() {
        return Err(StoreError::Corrupt("an episode without signals was to be brought in line".into()));
    }
    let settled =
        |row: (Uuid, String, String)| Ok(Settled { id: row.0, before: word::value(row.1)?, now: word::value(row.2)? });
    rows.into_iter().map(|row| settled((row.id, row.before, row.now))).collect()
}

/// Brings one in line.
pub(super) async fn in_line_one(act: &mut Act, episode: Now) -> Result<Settled, StoreError> {
    in_line(act, &[episode]).await?.pop().ok_or(StoreError::Missing(ObjectKind::Episode))
}

/// No signal that holds is left in some. Where all of them went to others they are joined to the first of those; else
/// what is withdrawn stays, and may wait for a review.
async fn left(act: &mut Act, ids: &[Uuid], joined: Option<Uuid>) -> Result<(), StoreError> {
    if ids.is_empty() {
        return Ok(());
    }
    let rows = sqlx::query!(
        r#"select id, side, exists (select from signal where episode_id = e.id) as "has_signals!"
           from episode e where id = any($1)"#,
        ids
    )
    .fetch_all(act.conn())
    .await?;
    let (mut stay, mut empty) = (vec![], vec![]);
    for row in rows {
        match row.has_signals {
            true => stay.push(Now { id: row.id, side: row.side.map(word::value).transpose()?, moved: true }),
            false => empty.push(row.id),
        }
    }
    in_line(act, &stay).await?;
    sqlx::query!(
        "update episode set gone = true, joined = $2, version = version + 1 where id = any($1)",
        &empty,
        joined
    )
    .execute(act.conn())
    .await?;
    Ok(())
}
