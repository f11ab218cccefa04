//! Changes of limits that wait for points to be judged again are made here, beside the requests.

use std::time::Duration;

use sqlx::PgPool;
use tokio_util::sync::CancellationToken;

/// How often somebody looks whether a change waits. One that is under way is done by one instance alone.
const LOOKS_EVERY: Duration = Duration::from_secs(1);

/// Makes changes that wait, until `shutdown`. What is under way then is as it was, and made by whoever comes next.
pub async fn run(pool: PgPool, shutdown: CancellationToken) {
    let work = async {
        loop {
            if let Err(error) = store::background::make_waiting(&pool).await {
                tracing::warn!(%error, "points could not be judged again; trying again");
            }
            tokio::time::sleep(LOOKS_EVERY).await;
        }
    };
    shutdown.run_until_cancelled(work).await;
}
