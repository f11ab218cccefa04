//! What is open too long is raised to the supervisors, once.

use chrono::{DateTime, SubsecRound, Utc};
use quality::notice::NoticeKind;
use quality::trail::{Action, Deed};
use serde_json::json;
use sqlx::PgPool;
use uuid::Uuid;

use crate::StoreError;
use crate::act::Act;
use crate::news::News;
use crate::notices::{About, NewNotice, raise as raise_notice};
use crate::once::compiled_once;

/// Raises to the supervisors what has waited longer than its characteristic allows; gives how many. What was sent back
/// waits from then on. Trial signals and what was found late never escalate. Several instances may do so at once.
#[compiled_once]
pub async fn escalate(pool: &PgPool, now: DateTime<Utc>) -> Result<usize, StoreError> {
    let now = now.trunc_subsecs(6);
    let due = sqlx::query!(
        r#"select e.id, e.characteristic_id, since.at as "since!"
           from episode e join characteristic c on c.id = e.characteristic_id
           cross join lateral (
               select greatest(e.raised_at, (
                   select max(r.at) from signal g join review_of o on o.signal_id = g.id
                   join review r on r.id = o.review_id
                   where g.episode_id = e.id and r.decision = 'sent_back')) as at) since
           where e.state in ('open', 'sent_back') and not e.gone and not e.trial and e.escalated_at is null
             and since.at + c.escalates_after * interval '1 minute' <= $1
           order by since.at, e.id"#,
        now
    );
    let mut raised = 0;
    for row in due.fetch_all(pool).await? {
        raised += usize::from(raise(pool, (row.characteristic_id, row.id), row.since, now).await?);
    }
    Ok(raised)
}

/// Raises one, unless it was answered, or raised by another instance, meanwhile.
async fn raise(
    pool: &PgPool,
    (characteristic, episode): (Uuid, Uuid),
    since: DateTime<Utc>,
    now: DateTime<Utc>,
) -> Result<bool, StoreError> {
    let mut act = Act::begin(pool).await?;
    let setup = act.take(characteristic).await?;
    let kept = sqlx::query!(
        "update episode set escalated_at = $2
         where id = $1 and state in ('open', 'sent_back') and not gone and not trial and escalated_at is null",
        episode,
        now
    )
    .execute(act.conn())
    .await?;
    if kept.rows_affected() == 0 {
        return Ok(false);
    }
    let deed = Deed::new(now, None, Action::EpisodeEscalated, episode, &json!({"waits_since": since}));
    act.did(characteristic, deed, News::Episode { characteristic, episode });
    let about = About::Episode(episode);
    let notice =
        NewNotice { kind: NoticeKind::OpenTooLong, at: now, station: Some(setup.station_id), person: None, about };
    raise_notice(&mut act, notice).await?;
    act.commit().await?;
    Ok(true)
}
