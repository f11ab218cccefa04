//! What samples of a characteristic are judged by, kept in memory while it stays as it is: reading it anew for each
//! sample took as long as saving one.

use std::collections::HashMap;
use std::sync::{Arc, LazyLock, Mutex, PoisonError};

use quality::shift::Calendar;
use sqlx::pool::PoolConnection;
use sqlx::{PgConnection, PgPool, Postgres};
use uuid::Uuid;

use crate::act::{Act, snapshot};
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

fn kept(is: (Uuid, Uuid)) -> Option<Arc<SetUp>> {
    KNOWN.lock().unwrap_or_else(PoisonError::into_inner).get(&is).map(Arc::clone)
}

fn keep(is: (Uuid, Uuid), read: SetUp) -> Arc<SetUp> {
    let (read, mut known) = (Arc::new(read), KNOWN.lock().unwrap_or_else(PoisonError::into_inner));
    if known.len() >= KEPT {
        known.clear();
    }
    known.insert(is, Arc::clone(&read));
    read
}

impl SetUp {
    async fn read(conn: &mut PgConnection, characteristic: Uuid) -> Result<Self, StoreError> {
        Ok(Self {
            setup: characteristics::find(&mut *conn, characteristic).await?,
            calendar: sites::calendar(&mut *conn).await?,
            phases: phases(conn, characteristic).await?,
        })
    }
}

/// Takes a characteristic until the act ends, as it is set up. For acts that have changed no set-up themselves: what they
/// might take back again must not be kept.
pub(crate) async fn take(act: &mut Act, characteristic: Uuid) -> Result<Arc<SetUp>, StoreError> {
    let is = act.hold(characteristic).await?;
    match kept(is) {
        Some(kept) => Ok(kept),
        // While it is held nobody changes it; what changes of the site meanwhile is only newer than it is kept under.
        None => Ok(keep(is, SetUp::read(act.conn(), characteristic).await?)),
    }
}

/// As it is set up, for whoever only looks, with a connection to look further.
pub(crate) async fn look(
    pool: &PgPool,
    characteristic: Uuid,
) -> Result<(PoolConnection<Postgres>, Arc<SetUp>), StoreError> {
    let mut conn = pool.acquire().await?;
    let is = characteristics::set_up(&mut conn, characteristic).await?;
    if let Some(kept) = kept(is) {
        return Ok((conn, kept));
    }
    // Who waits for a second one must not hold a first.
    drop(conn);
    // At one moment, since nobody holds it.
    let mut tx = snapshot(pool).await?;
    let is = characteristics::set_up(&mut tx, characteristic).await?;
    let read = keep(is, SetUp::read(&mut tx, characteristic).await?);
    drop(tx);
    Ok((pool.acquire().await?, read))
}
