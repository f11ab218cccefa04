//! Deliveries: claimed by one instance at a time, and marked as sent, as failed, or as given up.

use chrono::{DateTime, Duration, Utc};
use quality::notice::{NoticeKind, tried_again_after};
use serde::Serialize;
use sqlx::PgPool;
use uuid::Uuid;

use crate::once::compiled_once;
use crate::{StoreError, word};

/// What is under way belongs to whoever claimed it for so long; sending takes less.
const CLAIMED_FOR_SECONDS: i64 = 120;

/// A notice to send.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Letter {
    /// Of the notice; the same for everybody who is sent it.
    pub notice: Uuid,
    pub kind: NoticeKind,
    pub at: DateTime<Utc>,
    pub station: Option<String>,
    pub characteristic: Option<String>,
    pub product: Option<String>,
    pub episode: Option<Uuid>,
    pub run: Option<Uuid>,
    pub run_number: Option<i64>,
    pub cause: Option<String>,
    /// The characteristic whose point a note stands on.
    pub noted: Option<Uuid>,
    /// Number of the sample.
    pub noted_number: Option<i64>,
}

/// Where it goes.
#[derive(Debug, Clone, PartialEq)]
pub enum To {
    /// To a person's mailbox.
    Mail { name: String, email: String },
    /// To another program.
    Webhook { url: String, secret: String },
}

/// A delivery that is claimed.
#[derive(Debug, Clone, PartialEq)]
pub struct Due {
    /// The same each time it is tried, so that whoever has had it knows it again.
    pub id: Uuid,
    /// Counting this one.
    pub tries: i32,
    pub to: To,
    pub letter: Letter,
}

/// Claims what is to be sent at `now`, at most `most`. What nobody marks is claimed again after a while: whoever claimed
/// it has ended.
#[compiled_once]
pub async fn due(pool: &PgPool, now: DateTime<Utc>, most: i64) -> Result<Vec<Due>, StoreError> {
    let rows = sqlx::query!(
        r#"with claimed as (
               update delivery set tries = tries + 1, next_at = $2
               where id in (
                   select d.id from delivery d
                   left join person p on p.id = d.person_id left join webhook w on w.id = d.webhook_id
                   where d.next_at <= $1 and (p.active and p.email is not null or w.active)
                   order by d.next_at, d.id limit $3 for update of d skip locked)
               returning id, notice_id, person_id, webhook_id, tries)
           select d.id, d.tries, p.name as "name?", p.email as "email?", w.url as "url?", w.secret as "secret?",
                  n.id as notice, n.kind, n.at, s.name as "station?", c.name as "characteristic?", r.name as "product?",
                  n.episode_id, n.run_id, u.number as "run_number?", k.name as "cause?", m.characteristic_id as "noted?",
                  m.number as "noted_number?"
           from claimed d join notice n on n.id = d.notice_id
           left join person p on p.id = d.person_id left join webhook w on w.id = d.webhook_id
           left join station s on s.id = n.station_id left join episode e on e.id = n.episode_id
           left join note t on t.id = n.note_id left join sample m on m.id = t.sample_id
           left join characteristic c on c.id = coalesce(e.characteristic_id, m.characteristic_id) left join product r on r.id = c.product_id
           left join run u on u.id = n.run_id left join cause k on k.id = n.cause_id
           order by n.at, d.id"#,
        now,
        now + Duration::seconds(CLAIMED_FOR_SECONDS),
        most
    );
    let mut all = Vec::new();
    for row in rows.fetch_all(pool).await? {
        let to = match (row.email, row.url, row.secret) {
            (Some(email), ..) => To::Mail { name: row.name.unwrap_or_default(), email },
            (None, Some(url), Some(secret)) => To::Webhook { url, secret },
            // Claimed, and without an address since: it waits for one.
            _ => continue,
        };
        let letter = Letter {
            notice: row.notice,
            kind: word::value(row.kind)?,
            at: row.at,
            station: row.station,
            characteristic: row.characteristic,
            product: row.product,
            episode: row.episode_id,
            run: row.run_id,
            run_number: row.run_number,
            cause: row.cause,
            noted: row.noted,
            noted_number: row.noted_number,
        };
        all.push(Due { id: row.id, tries: row.tries, to, letter });
    }
    Ok(all)
}

/// A delivery was taken by the other side.
#[compiled_once]
pub async fn sent(pool: &PgPool, id: Uuid, at: DateTime<Utc>) -> Result<(), StoreError> {
    sqlx::query!("update delivery set sent_at = $2, next_at = null, failed = null where id = $1", id, at)
        .execute(pool)
        .await?;
    Ok(())
}

/// A delivery was not taken: it is tried again, or given up.
#[compiled_once]
pub async fn failed(pool: &PgPool, due: &Due, why: &str, now: DateTime<Utc>) -> Result<(), StoreError> {
    let next = tried_again_after(due.tries.unsigned_abs()).map(|after| now + after);
    let why: String = why.chars().take(500).collect();
    sqlx::query!("update delivery set next_at = $2, failed = $3 where id = $1", due.id, next, why)
        .execute(pool)
        .await?;
    Ok(())
}
