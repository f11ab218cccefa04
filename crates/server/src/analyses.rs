//! The turns of analyses: so many at once, so many that wait.

use std::sync::Arc;

use tokio::sync::{OwnedSemaphorePermit, Semaphore, SemaphorePermit};

use crate::failure::Failure;
use crate::problem::Problem;

/// Analyses at once. A large one takes a core, and some hundred megabytes.
const AT_ONCE: usize = 2;

/// Analyses that wait for their turn.
const WAITING_AT_MOST: usize = 16;

/// The turns of analyses.
#[derive(Debug)]
pub struct Analyses {
    turns: Arc<Semaphore>,
    places: Semaphore,
}

impl Default for Analyses {
    fn default() -> Self {
        Self { turns: Arc::new(Semaphore::new(AT_ONCE)), places: Semaphore::new(AT_ONCE + WAITING_AT_MOST) }
    }
}

impl Analyses {
    /// Takes a place among those that wait.
    ///
    /// # Errors
    /// When too many wait already.
    pub fn place(&self) -> Result<SemaphorePermit<'_>, Failure> {
        self.places.try_acquire().map_err(|_| Failure::Busy {})
    }

    /// Waits for one's turn, which lasts until it is dropped.
    pub async fn turn(&self) -> Result<OwnedSemaphorePermit, Problem> {
        Arc::clone(&self.turns).acquire_owned().await.map_err(|error| Problem::internal(&error))
    }
}
