//! What waits for points to be judged: more of them than anybody waits for.

use chrono::{DateTime, Utc};
use quality::object::ObjectKind;
use quality::version::Changed;
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

/// Tells how far something is that goes on beside others.
pub(crate) struct Progress<'a> {
    pool: &'a PgPool,
    of: Of,
    characteristic: Uuid,
    done: i64,
}

enum Of {
    /// What waits under this number.
    Waiting(i64),
    /// An import that is brought in straight away.
    Import(Uuid),
}

impl Of {
    fn taken_back(&self) -> Changed {
        Changed(match self {
            Self::Waiting(_) => ObjectKind::Limits,
            Self::Import(_) => ObjectKind::Import,
        })
    }
}

impl<'a> Progress<'a> {
    /// Of what waits under this number.
    pub fn new(pool: &'a PgPool, id: i64, characteristic: Uuid) -> Self {
        Self { pool, of: Of::Waiting(id), characteristic, done: 0 }
    }

    /// Of an import that is brought in straight away.
    pub fn of_import(pool: &'a PgPool, import: Uuid, characteristic: Uuid) -> Self {
        Self { pool, of: Of::Import(import), characteristic, done: 0 }
    }

    /// So much more is done. It is for the eye: where it cannot be told the work goes on.
    ///
    /// # Errors
    /// When it was taken back meanwhile.
    #[compiled_once]
    pub async fn told(&mut self, more: usize) -> Result<(), StoreError> {
        self.done += i64::try_from(more).unwrap_or(i64::MAX);
        match self.write().await {
            Ok(false) => Err(self.of.taken_back().into()),
            _ => Ok(()),
        }
    }

    /// `false` where nobody wants it any more.
    async fn write(&self) -> Result<bool, StoreError> {
        let mut conn = self.pool.acquire().await?;
        let told = match self.of {
            Of::Waiting(id) => {
                sqlx::query!("update judging_again set done = $2 where id = $1", id, self.done)
                    .execute(&mut *conn)
                    .await?
            }
            Of::Import(import) => {
                let write = sqlx::query!(
                    "insert into import_progress select id, $2 from import where id = $1 and state = 'staged'
                     on conflict (import_id) do update set done = excluded.done",
                    import,
                    self.done
                );
                write.execute(&mut *conn).await?
            }
        };
        tell(&mut conn, News::Limits { characteristic: self.characteristic }).await?;
        Ok(told.rows_affected() > 0)
    }
}
