//! The queue of those who sign in. Checking a password is made to be costly, so only so many wait, and
//! only so many of one place: who floods it stands in their own way.

use std::collections::HashMap;
use std::net::IpAddr;
use std::sync::{Arc, Mutex, PoisonError};

use crate::failure::Failure;

/// Where somebody queues.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Lane {
    /// At an address.
    Place(IpAddr),
    /// At terminals that know them: they are let through past any flood.
    Known,
}

const OF_PLACE_AT_MOST: usize = 16;
const KNOWN_AT_MOST: usize = 64;
/// Of all places together.
const PLACES_AT_MOST: usize = 64;

/// Who waits, by lane.
#[derive(Debug, Default)]
pub struct Gate(Mutex<HashMap<Lane, usize>>);

/// A place in the queue, until it is dropped.
#[derive(Debug)]
pub struct Passage {
    gate: Arc<Gate>,
    lane: Lane,
}

impl Gate {
    /// Takes a place in the queue.
    ///
    /// # Errors
    /// When the lane, or all lanes of places, are full.
    pub fn enter(self: &Arc<Self>, lane: Lane) -> Result<Passage, Failure> {
        let mut waiting = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let in_lane = waiting.get(&lane).copied().unwrap_or(0);
        let at_places: usize = waiting.iter().filter(|(lane, _)| **lane != Lane::Known).map(|(_, n)| n).sum();
        let full = match lane {
            Lane::Known => in_lane >= KNOWN_AT_MOST,
            Lane::Place(_) => in_lane >= OF_PLACE_AT_MOST || at_places >= PLACES_AT_MOST,
        };
        if full {
            return Err(too_many_tries(1));
        }
        waiting.insert(lane, in_lane + 1);
        Ok(Passage { gate: Arc::clone(self), lane })
    }
}

impl Drop for Passage {
    fn drop(&mut self) {
        let mut waiting = self.gate.0.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(n) = waiting.get_mut(&self.lane) {
            *n -= 1;
            if *n == 0 {
                waiting.remove(&self.lane);
            }
        }
    }
}

/// The next try is heard later.
pub fn too_many_tries(retry_after_seconds: i64) -> Failure {
    Failure::TooManyTries { retry_after_seconds }
}
