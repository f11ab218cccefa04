//! What is done beside the requests: changes of limits that wait for points to be judged again, and looking whether
//! limits in force are still true.

use std::time::Duration;

use chrono::Utc;
use sqlx::PgPool;
use store::StoreError;
use store::turn::{Task, Turn};
use tokio_util::sync::CancellationToken;

/// How often an instance looks whether a change waits, and asks whether it is its turn.
const LOOKS_EVERY: Duration = Duration::from_secs(1);

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
            store::background::make_waiting(pool).await?;
            store::look::look_at_changed(pool, Utc::now()).await?;
        }
        tokio::time::sleep(LOOKS_EVERY).await;
    }
}
