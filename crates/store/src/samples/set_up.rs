//! What samples of a characteristic are judged by, kept in memory while it stays as it is: reading it anew for each
//! sample took as long as saving one.

use std::collections::HashMap;
use std::sync::{Arc, LazyLock, Mutex, PoisonError};

use quality::shift::Calendar;
use uuid::Uuid;

use crate::act::Act;
use crate::characteristics::{self, CharacteristicView};
use crate::phases::{Phase, phases};
use crate::{StoreError, sites};

/// What does not change from one sample to the next.
#[derive(Debug)]
pub(crate) struct SetUp {
    pub setup: CharacteristicView,
    pub calendar: Calendar,
    pub phases: Vec<Phase>,
}

/// So many are kept; then all are forgotten, and those that are in use read again.
const KEPT: usize = 5_000;

/// By what says how a characteristic and its site are set up, which is never the same for two.
type Known = HashMap<(Uuid, Uuid), Arc<SetUp>>;

static KNOWN: LazyLock<Mutex<Known>> = LazyLock::new(Mutex::default);

/// Takes a characteristic until the act ends, as it is set up. For acts that have changed no set-up themselves: what they
/// might take back again must not be kept.
pub(crate) async fn take(act: &mut Act, characteristic: Uuid) -> Result<Arc<SetUp>, StoreError> {
    let is = act.hold(characteristic).await?;
    let known = || KNOWN.lock().unwrap_or_else(PoisonError::into_inner);
    if let Some(kept) = known().get(&is) {
        return Ok(Arc::clone(kept));
    }
    // While it is held nobody changes it; what changes of the site meanwhile is only newer than it is kept under.
    let read = Arc::new(SetUp {
        setup: characteristics::find(act.conn(), characteristic).await?,
        calendar: sites::calendar(act.conn()).await?,
        phases: phases(act.conn(), characteristic).await?,
    });
    let mut known = known();
    if known.len() >= KEPT {
        known.clear();
    }
    known.insert(is, Arc::clone(&read));
    Ok(read)
}
