//! Whose turn it is to speak with devices: of several instances on one database one does.

use sqlx::{Connection, PgConnection, PgPool};

use crate::StoreError;

/// The lock that the instance holds which keeps the connections.
const LOCK: i64 = 0x6e75_7665_6b00_0001;

/// An instance that waits for its turn, or has it.
pub struct Turn {
    /// Of its own: the lock goes when it goes.
    conn: PgConnection,
    held: bool,
}

impl Turn {
    /// Begins to wait.
    ///
    /// # Errors
    /// When the database cannot be reached.
    pub async fn wait(pool: &PgPool) -> Result<Self, StoreError> {
        Ok(Self { conn: PgConnection::connect_with(&pool.connect_options()).await?, held: false })
    }

    /// Whether it is this instance's turn, which lasts until the connection is lost.
    ///
    /// # Errors
    /// When the database cannot be reached: the turn is over then.
    pub async fn has_come(&mut self) -> Result<bool, StoreError> {
        if self.held {
            self.conn.ping().await?;
        } else {
            self.held =
                sqlx::query_scalar("select pg_try_advisory_lock($1)").bind(LOCK).fetch_one(&mut self.conn).await?;
        }
        Ok(self.held)
    }
}
