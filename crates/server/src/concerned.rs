//! Which stations news concerns, for the streams of whoever is kept to some.

use std::collections::HashMap;
use std::sync::{Mutex, MutexGuard, PoisonError};

use quality::object::ObjectKind;
use sqlx::PgPool;
use store::news::News;
use store::places::stations_of;
use uuid::Uuid;

/// The stations of the characteristics that news was of: looked up once, since devices can save hundreds of samples a
/// second, each stream asks, and a characteristic stays where it is.
#[derive(Debug, Default)]
pub struct Concerned(Mutex<HashMap<Uuid, Uuid>>);

impl Concerned {
    /// Whether news concerns one of some stations. While the database is away nothing is told.
    pub async fn is(&self, pool: &PgPool, stations: &[Uuid], news: &News) -> bool {
        let (kind, id) = match *news {
            News::Sample { characteristic, .. }
            | News::Episode { characteristic, .. }
            | News::Note { characteristic }
            | News::Limits { characteristic } => {
                let station = self.station_of(pool, characteristic).await;
                return station.is_some_and(|station| stations.contains(&station));
            }
            News::Station { station } | News::Run { station } | News::Offer { station, .. } => {
                return stations.contains(&station);
            }
            News::Study { study } => (ObjectKind::Study, study),
            News::CauseTree { tree } => (ObjectKind::CauseTree, tree),
            News::Plan => return true,
            News::Handover | News::Notice | News::Peers { .. } => return false,
        };
        let of = stations_of(pool, kind, id).await.ok().flatten().unwrap_or_default();
        of.iter().any(|station| stations.contains(station))
    }

    async fn station_of(&self, pool: &PgPool, characteristic: Uuid) -> Option<Uuid> {
        let known = self.known().get(&characteristic).copied();
        if known.is_some() {
            return known;
        }
        let found = stations_of(pool, ObjectKind::Characteristic, characteristic).await.ok().flatten()?;
        let station = *found.first()?;
        self.known().insert(characteristic, station);
        Some(station)
    }

    fn known(&self) -> MutexGuard<'_, HashMap<Uuid, Uuid>> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }
}
