//! Samples that come behind all that is there: they are kept where they are tried, since a million of them are not written
//! twice in a moment.

use std::sync::Arc;

use chrono::{DateTime, Utc};
use sqlx::{PgConnection, PgPool};
use uuid::Uuid;

use super::bring_in::{digested, done, from_rows, from_staged};
use super::rows::Rows;
use crate::act::Act;
use crate::judging::{Progress, judge_again};
use crate::limits::settle;
use crate::news::News;
use crate::phases::phases;
use crate::{StoreError, characteristics};

/// An import that may come behind.
pub(crate) struct Behind {
    pub characteristic: Uuid,
    pub import: Uuid,
    /// When the first of its samples was taken.
    pub from: DateTime<Utc>,
    pub by: (Uuid, DateTime<Utc>),
}

/// Where its samples come from.
pub(crate) enum Come<'a> {
    Staged,
    Rows(&'a Arc<Rows>),
}

impl Behind {
    /// Brings it in. Who enters samples is held up at the very end alone, and who cancels it is not. `false`, and
    /// nothing is done, where it does not come behind or changes what stands, which others may answer meanwhile; where
    /// somebody was there; and where it was taken back.
    pub async fn bring_in(&self, pool: &PgPool, come: Come<'_>, progress: Progress<'_>) -> Result<bool, StoreError> {
        match self.tried(pool, come, progress).await {
            Err(StoreError::Changed(_)) => Ok(false),
            Err(error) if error.is_conflict() => Ok(false),
            done => done,
        }
    }

    async fn tried(&self, pool: &PgPool, come: Come<'_>, mut progress: Progress<'_>) -> Result<bool, StoreError> {
        let characteristic = self.characteristic;
        let mut act = Act::begin_at_one_moment(pool).await?;
        if !self.is_behind(act.conn()).await? {
            return Ok(false);
        }
        let setup = characteristics::find(act.conn(), characteristic).await?;
        let (made, digest) = match come {
            Come::Staged => (from_staged(&mut act, &setup, self.import).await?, None),
            Come::Rows(rows) => {
                let (made, digest) = from_rows(&mut act, &setup, rows, Some(&mut progress)).await?;
                (made, Some(digest))
            }
        };
        let after = phases(act.conn(), characteristic).await?;
        let (range, because) = (made.range.unwrap_or_default(), made.because(self.by.0, self.by.1));
        judge_again(&mut act, &setup, after, range, because, Some(progress)).await?;
        act.hold(characteristic).await?;
        if let Some(digest) = digest {
            digested(act.conn(), self.import, &digest).await?;
        }
        done(&mut act, characteristic, self.import).await?;
        settle(&mut act, characteristic, made.counts).await?;
        act.tell(News::Limits { characteristic });
        act.commit().await?;
        Ok(true)
    }

    /// All of it comes behind every sample that is there, and can touch no signal: none that goes on up to the last of
    /// them, and none at all on trial, where limits move.
    async fn is_behind(&self, conn: &mut PgConnection) -> Result<bool, StoreError> {
        Ok(sqlx::query_scalar!(
            r#"with last as (select taken_at, number from sample where characteristic_id = $1
                          order by taken_at desc, number desc limit 1),
                 phase as (select l.state = 'trial' as trial from phase p join limits l on l.phase_id = p.id
                           where p.characteristic_id = $1 and p.merged_at is null and l.state <> 'retired' order by p.starts_at desc limit 1)
               select not exists (select from last where taken_at >= $2)
                   and not exists (select from signal g where g.characteristic_id = $1 and g.to_taken_at >= (
                       select case when phase.trial then '-infinity' else last.taken_at end from last, phase)) as "is!""#,
            self.characteristic,
            self.from
        )
        .fetch_one(conn)
        .await?)
    }
}
