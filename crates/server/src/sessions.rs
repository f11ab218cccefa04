//! Server-side sessions in PostgreSQL, for the session layer.

use std::time::Duration;

use chrono::{DateTime, Utc};
use sha2::{Digest, Sha256};
use sqlx::PgPool;
use store::StoreError;
use time::OffsetDateTime;
use tokio_util::sync::CancellationToken;
use tower_sessions::SessionStore;
use tower_sessions::session::{Id, Record};
use tower_sessions::session_store::{Error, Result};

use crate::failure::Failure;

/// Keeps sessions under the hash of their token: who reads the table cannot use what is in it.
#[derive(Debug, Clone)]
pub struct Sessions(pub PgPool);

/// Whether a session has neither ended nor expired.
pub async fn goes_on(pool: &PgPool, session: Option<Id>) -> std::result::Result<bool, StoreError> {
    let Some(id) = session else { return Ok(false) };
    Ok(store::access::session(pool, &hash(&id), Utc::now()).await?.is_some())
}

/// What a session is kept under.
pub(crate) fn hash(id: &Id) -> Vec<u8> {
    Sha256::digest(id.0.to_be_bytes()).to_vec()
}

fn backend(error: impl ToString) -> Error {
    Error::Backend(error.to_string())
}

/// What the store says of a session it could not get at. The error of the session layer holds a text
/// alone, so the text says whose fault it was.
fn away(error: StoreError) -> Error {
    match &error {
        StoreError::Database(cause) if error.is_away() => Error::Backend(format!("{AWAY}{cause}")),
        _ => backend(error),
    }
}

const AWAY: &str = "the database is away: ";

impl From<tower_sessions::session::Error> for Failure {
    fn from(error: tower_sessions::session::Error) -> Self {
        tracing::error!(%error, "a session could not be read or kept");
        match error {
            tower_sessions::session::Error::Store(Error::Backend(why)) if why.starts_with(AWAY) => {
                Self::DatabaseAway {}
            }
            _ => Self::Internal {},
        }
    }
}

fn columns(record: &Record) -> Result<(serde_json::Value, DateTime<Utc>)> {
    let data = serde_json::to_value(&record.data).map_err(|error| Error::Encode(error.to_string()))?;
    let expires_at = DateTime::<Utc>::from_timestamp(record.expiry_date.unix_timestamp(), 0)
        .ok_or_else(|| backend("expiry out of range"))?;
    Ok((data, expires_at))
}

#[async_trait::async_trait]
impl SessionStore for Sessions {
    async fn create(&self, record: &mut Record) -> Result<()> {
        let (data, expires_at) = columns(record)?;
        while !store::access::begin_session(&self.0, &hash(&record.id), &data, expires_at).await.map_err(away)? {
            record.id = Id::default();
        }
        Ok(())
    }

    async fn save(&self, record: &Record) -> Result<()> {
        let (data, expires_at) = columns(record)?;
        store::access::save_session(&self.0, &hash(&record.id), &data, expires_at).await.map_err(away)
    }

    async fn load(&self, id: &Id) -> Result<Option<Record>> {
        let Some((data, expires_at)) = store::access::session(&self.0, &hash(id), Utc::now()).await.map_err(away)?
        else {
            return Ok(None);
        };
        Ok(Some(Record {
            id: *id,
            data: serde_json::from_value(data).map_err(|error| Error::Decode(error.to_string()))?,
            expiry_date: OffsetDateTime::from_unix_timestamp(expires_at.timestamp()).map_err(backend)?,
        }))
    }

    async fn delete(&self, id: &Id) -> Result<()> {
        store::access::end_session(&self.0, &hash(id)).await.map_err(away)
    }
}

/// Clears expired sessions away every hour until shutdown.
pub async fn clear_expired(pool: PgPool, shutdown: CancellationToken) {
    let mut hourly = tokio::time::interval(Duration::from_secs(3600));
    while shutdown.run_until_cancelled(hourly.tick()).await.is_some() {
        if let Err(error) = store::access::end_expired_sessions(&pool, Utc::now()).await {
            tracing::warn!(%error, "expired sessions were not cleared");
        }
    }
}
