//! Whose turn it is: of several instances on one database one does what only one may do at a time.

use sqlx::{Connection, PgConnection, PgPool};

use crate::StoreError;
use crate::once::compiled_once;

/// What one instance does for all.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Task {
    /// Speak with devices.
    Devices,
    /// Judge points again in the background.
    Judging,
}

impl Task {
    /// The lock that the instance holds whose turn it is.
    fn lock(self) -> i64 {
        match self {
            Self::Devices => 0x6e75_7665_6b00_0001,
            Self::Judging => 0x6e75_7665_6b00_0002,
        }
    }
}

/// An instance that waits for its turn, or has it.
pub struct Turn {
    task: Task,
    /// Of its own: the lock goes when it goes.
    conn: PgConnection,
    held: bool,
}

impl Turn {
    /// Begins to wait.
    ///
    /// # Errors
    /// When the database cannot be reached.
    #[compiled_once]
    pub async fn wait(pool: &PgPool, task: Task) -> Result<Self, StoreError> {
        Ok(Self { task, conn: PgConnection::connect_with(&pool.connect_options()).await?, held: false })
    }

    /// Whether it is this instance's turn, which lasts until the connection is lost.
    ///
    /// # Errors
    /// When the database cannot be reached: the turn is over then.
    #[compiled_once]
    pub async fn has_come(&mut self) -> Result<bool, StoreError> {
        if self.held {
            self.conn.ping().await?;
        } else {
            let lock = self.task.lock();
            self.held =
                sqlx::query_scalar("select pg_try_advisory_lock($1)").bind(lock).fetch_one(&mut self.conn).await?;
        }
        Ok(self.held)
    }
}
