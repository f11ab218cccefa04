//! Who copies the samples of an import, and imports whose server ended while it did.

use chrono::{DateTime, Duration, Utc};
use sqlx::{Connection, PgConnection, PgPool};
use uuid::Uuid;

use crate::StoreError;
use crate::once::compiled_once;

/// So long after it began an import that nobody copies is given up.
const GIVEN_UP_AFTER: Duration = Duration::minutes(1);

/// Held by the one import whose samples are brought in straight away.
const ALONE: i64 = 0x6e75_7665_6b00_0003;

/// Says that an import's samples are being copied, until it ends, or its server does.
pub(super) struct Copying {
    import: Uuid,
    /// Of its own: the locks go when it goes.
    conn: PgConnection,
}

impl Copying {
    pub async fn begin(pool: &PgPool, import: Uuid) -> Result<Self, StoreError> {
        let mut conn = PgConnection::connect_with(&pool.connect_options()).await?;
        sqlx::query!("select pg_advisory_lock(hashtextextended($1, 0))", import.to_string()).execute(&mut conn).await?;
        Ok(Self { import, conn })
    }

    /// No other import is brought in straight away; it is this one's turn until it ends.
    pub async fn is_alone(&mut self) -> Result<bool, StoreError> {
        let alone = sqlx::query_scalar!(r#"select pg_try_advisory_lock($1) as "alone!""#, ALONE);
        Ok(alone.fetch_one(&mut self.conn).await?)
    }

    /// It could not be made.
    pub async fn refused(mut self) -> Result<(), StoreError> {
        sqlx::query!(
            "update import set state = 'failed', ended_at = now() where id = $1 and state = 'staged'",
            self.import
        )
        .execute(&mut self.conn)
        .await?;
        self.end().await
    }

    pub async fn end(mut self) -> Result<(), StoreError> {
        sqlx::query!("delete from import_progress where import_id = $1", self.import).execute(&mut self.conn).await?;
        Ok(self.conn.close().await?)
    }
}

/// Goes on to its end, whoever stops waiting for it: a copy that is broken off would leave its connection unready for
/// whoever has it next.
pub(super) async fn unbroken<T: Send + 'static>(
    work: impl Future<Output = Result<T, StoreError>> + Send + 'static,
) -> Result<T, StoreError> {
    tokio::spawn(work).await.map_err(|error| StoreError::Corrupt(error.to_string()))?
}

/// Ends what nobody copies any more; nothing of it is there. Gives how many there were.
///
/// # Errors
/// When the database fails.
#[compiled_once]
pub async fn end_abandoned(pool: &PgPool, now: DateTime<Utc>) -> Result<u64, StoreError> {
    let ended = sqlx::query!(
        "with ended as (
             update import set state = 'failed', ended_at = $1
             where state = 'staged' and at < $2 and pg_try_advisory_xact_lock(hashtextextended(id::text, 0))
             returning id),
           told as (delete from import_progress p using ended where p.import_id = ended.id)
         select from ended",
        now,
        now - GIVEN_UP_AFTER
    );
    Ok(ended.execute(pool).await?.rows_affected())
}
