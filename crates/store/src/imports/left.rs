//! What is left of an import that has begun: its samples, more than anybody waits for.

use std::sync::Arc;

use chrono::{DateTime, Utc};
use sqlx::PgPool;
use uuid::Uuid;

use super::behind::{Behind, Come};
use super::bring_in::digested;
use super::copying::{Copying, unbroken};
use super::rows::{Into, Rows};
use crate::StoreError;
use crate::act::Act;
use crate::judging::{Pending, Progress, put_off};
use crate::limits::LimitsChange;
use crate::once::compiled_once;

/// New samples of an import that has begun.
pub struct Left {
    pub(super) rows: Arc<Rows>,
    pub(super) characteristic: Uuid,
    /// How many there are.
    pub(super) new: usize,
    pub(super) by: (Uuid, DateTime<Utc>),
}

impl Left {
    /// Brings them in where they come behind all that is there, one import at a time; else they are staged, and left to
    /// the background. Where it was cancelled meanwhile nothing of it is kept.
    ///
    /// # Errors
    /// When the database fails: nobody copies it then, and it is given up.
    #[compiled_once]
    pub async fn bring_in(self, pool: &PgPool) -> Result<(), StoreError> {
        unbroken(self.brought_in(pool.clone())).await
    }

    async fn brought_in(self, pool: PgPool) -> Result<(), StoreError> {
        let mut copying = Copying::begin(&pool, self.rows.import).await?;
        let come = async {
            Ok::<_, StoreError>(copying.is_alone().await? && self.behind(&pool).await? || self.staged(&pool).await?)
        };
        match come.await {
            Err(error) if error.is_fault() => Err(error),
            Err(_) => copying.refused().await,
            Ok(_) => copying.end().await,
        }
    }

    async fn behind(&self, pool: &PgPool) -> Result<bool, StoreError> {
        let import = self.rows.import;
        let behind = Behind { characteristic: self.characteristic, import, from: self.rows.from, by: self.by };
        let progress = Progress::of_import(pool, import, self.characteristic);
        behind.bring_in(pool, Come::Rows(&self.rows), progress).await
    }

    /// Copies them aside, and lets them be judged there; `false` where it was cancelled.
    async fn staged(&self, pool: &PgPool) -> Result<bool, StoreError> {
        let mut act = Act::begin(pool).await?;
        let import = self.rows.import;
        let stands = sqlx::query_scalar!(r#"select state = 'staged' as "staged!" from import where id = $1"#, import);
        if !stands.fetch_one(act.conn()).await? {
            return Ok(false);
        }
        let digest = self.rows.copy(act.conn(), Into::Staged, None).await?;
        let waits = sqlx::query!("update import set state = 'waiting' where id = $1 and state = 'staged'", import);
        if waits.execute(act.conn()).await?.rows_affected() == 0 {
            return Ok(false);
        }
        digested(act.conn(), import, &digest).await?;
        let pending: Pending<LimitsChange> = Pending::Import { import };
        put_off(&mut act, self.characteristic, &pending, self.by, self.new).await?;
        act.keep().await?;
        Ok(true)
    }
}
