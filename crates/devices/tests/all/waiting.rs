//! Waiting for what other tasks do: milliseconds on a machine of one's own, much longer on one that does much beside.

use std::fmt::Debug;
use std::time::{Duration, Instant};

use tokio::time::{sleep, timeout};

const PATIENCE: Duration = Duration::from_secs(150);

/// What `look` finds in the end; it says what there is instead as long as that is not it.
pub async fn until<T, E: Debug>(mut look: impl AsyncFnMut() -> Result<T, E>) -> T {
    let begun = Instant::now();
    loop {
        match look().await {
            Ok(found) => return found,
            Err(instead) => assert!(begun.elapsed() < PATIENCE, "still {instead:?}"),
        }
        sleep(Duration::from_millis(50)).await;
    }
}

/// What comes of `work`.
pub async fn in_time<T>(work: impl Future<Output = T>) -> T {
    timeout(PATIENCE, work).await.expect("it ends in time")
}
