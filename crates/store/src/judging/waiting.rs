//! What waits for points to be judged: more of them than anybody waits for.

use chrono::{DateTime, Utc};
use serde::{Deserialize, Serialize};
use sqlx::{PgConnection, PgPool};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;
use crate::act::Act;
use crate::news::{News, tell};
use crate::once::compiled_once;
use crate::signals::Because;

/// So many points are judged again while somebody waits; more are left to the background.
pub(crate) const AT_ONCE: usize = 1000;

/// What waits for points to be judged.
#[derive(Debug, Clone, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub(crate) enum Pending<C> {
    /// A change that is made when they are judged.
    Change(C),
    /// Points behind one that changed go on from its sums.
    Behind { taken_at: DateTime<Utc>, number: i64, because: Because },
    /// Samples of an import that are staged.
    Import { import: Uuid },
}

/// Points that are being judged again.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct JudgingAgain {
    /// How many there are.
    pub total: i64,
    /// How many of them have been read.
    pub done: i64,
    /// The change could not be made: something else changed meanwhile.
    pub failed: bool,
}

/// What is being judged again of a characteristic.
#[compiled_once]
pub async fn under_way(conn: &mut PgConnection, characteristic: Uuid) -> Result<Option<JudgingAgain>, StoreError> {
    let found = sqlx::query_as!(
        JudgingAgain,
        "select total, done, failed from judging_again where characteristic_id = $1 order by id limit 1",
        characteristic
    );
    Ok(found.fetch_optional(conn).await?)
}

/// Forgets changes that could not be made.
pub(crate) async fn forget_failed(conn: &mut PgConnection, characteristic: Uuid) -> Result<(), StoreError> {
    sqlx::query!("delete from judging_again where characteristic_id = $1 and failed", characteristic)
        .execute(conn)
        .await?;
    Ok(())
}

/// Leaves something to the background, within an act.
pub(crate) async fn put_off(
    act: &mut Act,
    characteristic: Uuid,
    pending: &Pending<impl Serialize>,
    (person, at): (Uuid, DateTime<Utc>),
    total: usize,
) -> Result<(), StoreError> {
    sqlx::query!(
        "insert into judging_again (characteristic_id, change, person_id, at, total) values ($1, $2, $3, $4, $5)",
        characteristic,
        serde_json::to_value(pending)?,
        person,
        at,
        i64::try_from(total).unwrap_or(i64::MAX)
    )
    .execute(act.conn())
    .await?;
    act.tell(News::Limits { characteristic });
    Ok(())
}

/// Tells how far points have been read.
pub(crate) struct Progress<'a> {
    pool: &'a PgPool,
    id: i64,
    characteristic: Uuid,
    done: usize,
}

impl<'a> Progress<'a> {
    /// Of what waits under this number.
    pub fn new(pool: &'a PgPool, id: i64, characteristic: Uuid) -> Self {
        Self { pool, id, characteristic, done: 0 }
    }

    /// So many more have been read. It is for the eye: where it cannot be told the work goes on.
    #[compiled_once]
    pub async fn told(&mut self, read: usize) {
        self.done += read;
        let _ = self.write().await;
    }

    async fn write(&self) -> Result<(), StoreError> {
        let mut conn = self.pool.acquire().await?;
        let done = i64::try_from(self.done).unwrap_or(i64::MAX);
        sqlx::query!("update judging_again set done = $2 where id = $1", self.id, done).execute(&mut *conn).await?;
        tell(&mut conn, News::Limits { characteristic: self.characteristic }).await
    }
}
