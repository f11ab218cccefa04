//! What is done beside the requests: changes of limits that wait for points to be judged again, looking whether
//! limits in force are still true, and raising what is open too long.

use std::time::Duration;

use chrono::Utc;
use sqlx::PgPool;
use store::StoreError;
use store::turn::{Task, Turn};
use tokio_util::sync::CancellationToken;

/// How often an instance looks whether a change waits, and asks whether it is its turn.
const LOOKS_EVERY: Duration = Duration::from_secs(1);

/// How often an instance looks whether something is open too long; all of them may.
const ESCALATES_EVERY: Duration = Duration::from_secs(5);

/// Raises what is open too long to the supervisors, until `shutdown`.
pub async fn escalate(pool: PgPool, shutdown: CancellationToken) {
    let work = async {
        loop {
            // Listening and answering come first where an instance has just started.
            tokio::time::sleep(ESCALATES_EVERY).await;
            if let Err(error) = store::episodes::escalate(&pool, Utc::now()).await {
                tracing::warn!(%error, "what is open too long could not be raised; trying again");
            }
        }
    };
    shutdown.run_until_cancelled(work).await;
}

/// Makes changes that wait, until `shutdown`. What is under way then is as it was, and made by whoever comes next.
pub async fn run(pool: PgPool, shutdown: CancellationToken) {
    let work = async {
        loop {
            if let Err(error) = make(&pool).await {
                tracing::warn!(%error, "points could not be judged again; trying again");
            }
            tokio::time::sleep(LOOKS_EVERY).await;
        }
    };
    shutdown.run_until_cancelled(work).await;
}

/// As long as it is this instance's turn.
async fn make(pool: &PgPool) -> Result<(), StoreError> {
    let mut turn = Turn::wait(pool, Task::Judging).await?;
    loop {
        if turn.has_come().await? {
            store::imports::end_abandoned(pool, Utc::now()).await?;
            store::background::make_waiting(pool).await?;
            store::look::look_at_changed(pool, Utc::now()).await?;
        }
        tokio::time::sleep(LOOKS_EVERY).await;
    }
}
