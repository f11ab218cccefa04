//! One act: what is changed, what the trail says of it, and what listeners are told, in one transaction.
//!
//! Whoever changes something takes what it belongs to, writes, says what was done, and commits. Deeds are
//! written into the trail at the end, so that the end of the site's chain, which everybody needs, is held for
//! a moment only; news goes out when, and only when, all is committed. An act that is dropped never was.

use quality::trail::Deed;
use sqlx::postgres::Postgres;
use sqlx::{PgConnection, PgPool, Transaction};
use uuid::Uuid;

use crate::characteristics::Held;
use crate::news::News;
use crate::once::compiled_once;
use crate::trail::{self, SITE_CHAIN, Said};
use crate::{StoreError, characteristics};

/// An act under way.
pub(crate) struct Act {
    tx: Transaction<'static, Postgres>,
    /// Characteristics that are held, each of which something is done to, and where their chains end.
    taken: Vec<(Uuid, trail::End)>,
    /// What was done, by chain, in the order of their first deeds.
    deeds: Vec<(Uuid, Vec<Deed>)>,
    /// What listeners are told, and how often it was said.
    news: Vec<(News, u32)>,
}

impl Act {
    /// Begins an act.
    #[compiled_once]
    pub async fn begin(pool: &PgPool) -> Result<Self, StoreError> {
        Ok(Self { tx: begun(pool).await?, taken: vec![], deeds: vec![], news: vec![] })
    }

    /// Begins an act that reads all as it was at one moment; where somebody else has changed what it changes, it cannot.
    pub async fn begin_at_one_moment(pool: &PgPool) -> Result<Self, StoreError> {
        let mut act = Self::begin(pool).await?;
        sqlx::query("set transaction isolation level repeatable read").execute(act.conn()).await?;
        Ok(act)
    }

    /// The connection, within the act.
    pub fn conn(&mut self) -> &mut PgConnection {
        &mut self.tx
    }

    /// Takes a characteristic until the end: who acts on the same queues here, so that each sees what those
    /// before it did. Something has to be done to it.
    #[compiled_once]
    pub async fn take(&mut self, characteristic: Uuid) -> Result<characteristics::CharacteristicView, StoreError> {
        self.hold(characteristic).await?;
        characteristics::find(self.conn(), characteristic).await
    }

    /// The same, for whoever knows how it is set up; gives by what to see whether it is still so.
    pub async fn hold(&mut self, characteristic: Uuid) -> Result<(Uuid, Uuid), StoreError> {
        let Held { end, set_up } = characteristics::hold(&mut self.tx, characteristic).await?;
        if !self.taken.iter().any(|(taken, _)| *taken == characteristic) {
            self.taken.push((characteristic, end));
        }
        Ok(set_up)
    }

    /// Says what was done, in a chain of the trail, and whom it concerns.
    pub fn did(&mut self, chain: Uuid, deed: Deed, news: News) {
        self.did_unseen(chain, deed);
        self.tell(news);
    }

    /// Says what was done where no screen shows it, as a sign-in.
    pub fn did_unseen(&mut self, chain: Uuid, deed: Deed) {
        match self.deeds.iter_mut().find(|(of, _)| *of == chain) {
            Some((_, deeds)) => deeds.push(deed),
            None => self.deeds.push((chain, vec![deed])),
        }
    }

    /// Tells news of what the trail does not speak of, as an offer.
    pub fn tell(&mut self, news: News) {
        match self.news.iter_mut().find(|(told, _)| told.is_like(&news)) {
            Some((told, often)) => {
                *told = news;
                *often += 1;
            }
            None => self.news.push((news, 1)),
        }
    }

    /// Says that a sample was added at the end of its chart, and that nothing else of the chart changed; where more
    /// was said of it, listeners look at all of it.
    pub fn added(&mut self, characteristic: Uuid, number: i64) {
        let sample = News::Sample { characteristic, added: None };
        if let Some((told, 1)) = self.news.iter_mut().find(|(told, _)| *told == sample) {
            *told = News::Sample { characteristic, added: Some(number) };
        }
    }

    /// Begins something that may be taken back by itself.
    #[compiled_once]
    pub async fn begin_part(&mut self) -> Result<(), StoreError> {
        sqlx::query("savepoint part").execute(self.conn()).await?;
        Ok(())
    }

    /// Ends it, kept or taken back; deeds of an act with parts taken back are not to be committed.
    #[compiled_once]
    pub async fn end_part(&mut self, keep: bool) -> Result<(), StoreError> {
        let end = if keep { "release savepoint part" } else { "rollback to savepoint part" };
        sqlx::query(end).execute(self.conn()).await?;
        Ok(())
    }

    /// Writes the trail, commits and tells.
    ///
    /// # Errors
    /// When the database fails; or when nothing was said of the act, or of a characteristic that it took: that
    /// is a fault of ours, and nothing of it is kept.
    #[compiled_once]
    pub async fn commit(self) -> Result<(), StoreError> {
        let said = |chain: &Uuid| self.deeds.iter().any(|(of, _)| of == chain);
        if self.deeds.is_empty() || !self.taken.iter().map(|(taken, _)| taken).all(said) {
            return Err(StoreError::Corrupt("a change that the trail would not know of".into()));
        }
        self.keep().await
    }

    /// Commits what the trail need not speak of: counts of tries, offers, the progress of a stream.
    #[compiled_once]
    pub async fn keep(mut self) -> Result<(), StoreError> {
        // The site's chain last: everybody needs it.
        self.deeds.sort_by_key(|(chain, _)| *chain == SITE_CHAIN);
        let mut said = Said::default();
        for (chain, deeds) in &self.deeds {
            let end = match self.taken.iter().find(|(taken, _)| taken == chain) {
                Some((_, end)) => end.clone(),
                None => trail::end(&mut self.tx, *chain).await?,
            };
            said.of_chain(*chain, end, deeds)?;
        }
        for (news, _) in &self.news {
            said.tell(news)?;
        }
        said.write(&mut self.tx).await?;
        Ok(self.tx.commit().await?)
    }
}

/// A transaction that has begun. It begins in a task of its own, whoever gives up waiting for it: a browser that leaves a
/// page ends its requests anywhere, and the driver takes back only what it knows to have begun. A connection that has begun
/// without its knowing would go back to the pool, and what others change by it would not be committed.
async fn begun(pool: &PgPool) -> Result<Transaction<'static, Postgres>, StoreError> {
    let pool = pool.clone();
    let begun = tokio::spawn(async move { pool.begin().await });
    Ok(begun.await.map_err(|_| sqlx::Error::WorkerCrashed)??)
}

/// One state of the data to read from, whatever is saved meanwhile; nothing can be changed in it.
pub(crate) async fn snapshot(pool: &PgPool) -> Result<Transaction<'static, Postgres>, StoreError> {
    let mut tx = begun(pool).await?;
    sqlx::query("set transaction isolation level repeatable read read only").execute(&mut *tx).await?;
    Ok(tx)
}
