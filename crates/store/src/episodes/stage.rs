//! Where an episode stands, as the rules of its life see it.

use quality::episode::Stage;
use quality::object::ObjectKind;
use quality::signal::SignalState;
use quality::trail::Deed;
use sqlx::PgConnection;
use uuid::Uuid;

use super::settle::{Now, Settled, in_line_one};
use crate::act::Act;
use crate::news::News;
use crate::once::compiled_once;
use crate::{StoreError, word};

/// An episode that is held until the act ends.
pub(crate) struct Held {
    pub id: Uuid,
    /// The one it lies on.
    pub characteristic: Uuid,
    pub stage: Stage,
}

/// What was said of signals, by the characteristic in whose chain the trail keeps it.
pub(crate) struct Said {
    pub characteristic: Uuid,
    pub signals: Vec<Uuid>,
}

impl Said {
    /// Of these signals of an episode; where there are none, of the episode alone.
    #[compiled_once]
    pub async fn of(conn: &mut PgConnection, held: &Held, signals: &[Uuid]) -> Result<Vec<Self>, StoreError> {
        let rows = sqlx::query_as!(
            Self,
            r#"select characteristic_id as characteristic, array_agg(id) as "signals!" from signal where id = any($1)
               group by characteristic_id order by characteristic_id"#,
            signals
        );
        let said = rows.fetch_all(conn).await?;
        if said.is_empty() {
            return Ok(vec![Self { characteristic: held.characteristic, signals: vec![] }]);
        }
        Ok(said)
    }
}

/// The episode that one belongs to now: itself, or the one that it was joined to.
pub(super) async fn joined(conn: &mut PgConnection, id: Uuid) -> Result<Uuid, StoreError> {
    sqlx::query_scalar!(
        r#"with recursive way as (select id, joined from episode where id = $1
                                  union select e.id, e.joined from episode e join way on e.id = way.joined)
           select id as "id!" from way where joined is null"#,
        id
    )
    .fetch_optional(conn)
    .await?
    .ok_or(StoreError::Missing(ObjectKind::Episode))
}

/// Holds what some episodes lie on, all of it in one order, so that nobody waits in a circle: a run is an episode of
/// several levels.
pub(crate) async fn hold_places(act: &mut Act, episodes: &[Uuid]) -> Result<(), StoreError> {
    let places = sqlx::query_scalar!(
        "select h.characteristic_id from sample_head h where h.characteristic_id in (
             select e.characteristic_id from episode e where e.id = any($1)
             union select g.characteristic_id from signal g where g.episode_id = any($1))
         order by h.characteristic_id for update",
        episodes
    );
    places.fetch_all(act.conn()).await?;
    Ok(())
}

/// Holds an episode by its characteristics, so that nobody judges or answers there meanwhile. Among many it may refuse
/// the step, and then nothing is done to it that the act would have to speak of.
pub(crate) async fn hold(act: &mut Act, id: Uuid) -> Result<Held, StoreError> {
    let id = joined(act.conn(), id).await?;
    let characteristic =
        sqlx::query_scalar!("select characteristic_id from episode where id = $1", id).fetch_one(act.conn()).await?;
    hold_places(act, &[id]).await?;
    let stage = stage(act.conn(), id).await?;
    Ok(Held { id, characteristic, stage })
}

/// Where it stands, and who has a part in it.
pub(super) async fn stage(conn: &mut PgConnection, id: Uuid) -> Result<Stage, StoreError> {
    let row = sqlx::query!(
        r#"with waiting as (select * from signal where episode_id = $1 and state <> 'reviewed'),
           flagged as (
               select s.id, s.person_id from waiting g
               join sample a on a.id = g.at_sample join sample t on t.id = g.to_sample
               join sample s on s.characteristic_id = g.characteristic_id
                    and (s.taken_at, s.number) >= (a.taken_at, a.number)
                    and (s.taken_at, s.number) <= (t.taken_at, t.number)
               where g.withdrawn_at is null and not s.gap)
           select state, version, gone,
                  array(select answered_by from waiting where state = 'answered' and answered_by is not null union
                        select d.person_id from waiting g join answer_of o on o.signal_id = g.id
                        join addition d on d.answer_id = o.answer_id where g.state = 'answered')
                      as "answered_by!: Vec<Uuid>",
                  array(select distinct cleared_by from waiting where cleared_by is not null) as "cleared_by!: Vec<Uuid>",
                  array(select person_id from flagged union
                        select c.person_id from correction c join flagged on flagged.id = c.sample_id)
                      as "sampled_by!: Vec<Uuid>"
           from episode where id = $1"#,
        id
    )
    .fetch_one(conn)
    .await?;
    Ok(Stage {
        state: word::value(row.state)?,
        version: row.version,
        gone: row.gone,
        answered_by: row.answered_by,
        cleared_by: row.cleared_by,
        sampled_by: row.sampled_by,
    })
}

/// Ends a step of its life: it stands where the least settled of its signals stands now, the trail knows what was said
/// of which signals, and so do all open screens.
pub(crate) async fn step_taken(
    act: &mut Act,
    held: &Held,
    signals: &[Uuid],
    deed: impl Fn(&[Uuid]) -> Deed,
) -> Result<(), StoreError> {
    let side = sqlx::query_scalar!("select side from episode where id = $1", held.id).fetch_one(act.conn()).await?;
    let side = side.map(word::value).transpose()?;
    let Settled { before, now, .. } = in_line_one(act, Now { id: held.id, side, moved: false }).await?;
    if before == now && now != SignalState::Answered {
        return Err(StoreError::Corrupt("a step that led nowhere".into()));
    }
    for Said { characteristic, signals } in Said::of(act.conn(), held, signals).await? {
        act.did(characteristic, deed(&signals), News::Episode { characteristic, episode: held.id });
    }
    Ok(())
}
