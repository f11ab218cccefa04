//! News between instances: what a transaction changed is told to every listener on the database
//! when, and only when, it commits.

use serde::{Deserialize, Serialize};
use sqlx::PgConnection;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::StoreError;

/// The channel that news is told on.
pub const CHANNEL: &str = "nuvek";

/// What changed. Small on purpose: whoever is concerned asks for the rest.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum News {
    /// A sample was saved, and judged.
    Sample {
        /// On this characteristic.
        characteristic: Uuid,
        /// The number of a sample that was added at the end of its chart, where nothing else of it changed.
        #[serde(default)]
        added: Option<i64>,
    },
    /// An episode began, went on, was answered or reviewed.
    Episode {
        /// On this characteristic.
        characteristic: Uuid,
        episode: Uuid,
    },
    /// A point was noted.
    Note {
        /// On this characteristic.
        characteristic: Uuid,
    },
    /// Something happened at a station.
    Station { station: Uuid },
    /// A run was saved, released or overridden.
    Run {
        /// At this bench.
        station: Uuid,
    },
    /// A device offers a value.
    Offer {
        /// Where it stands.
        station: Uuid,
        offer: Uuid,
    },
    /// Somebody is told something.
    Notice,
    /// Words were left to the next shift, or somebody has read the handover.
    Handover,
    /// Stations, products, characteristics or devices were set up or changed.
    Plan,
    /// A study was kept, changed, frozen or signed.
    Study { study: Uuid },
    /// A cause tree was started or changed.
    CauseTree { tree: Uuid },
    /// Results were given to a peer group, or it told something of itself.
    Peers { group: Uuid },
    /// Limits were put in force.
    Limits {
        /// On this characteristic.
        characteristic: Uuid,
    },
}

impl News {
    /// Says the same, whatever samples were added.
    pub(crate) fn is_like(&self, other: &Self) -> bool {
        match (self, other) {
            (Self::Sample { characteristic, .. }, Self::Sample { characteristic: of, .. }) => characteristic == of,
            _ => self == other,
        }
    }
}

/// Tells news with the transaction of `conn`.
pub(crate) async fn tell(conn: &mut PgConnection, news: News) -> Result<(), StoreError> {
    let text = serde_json::to_string(&news)?;
    sqlx::query!("select pg_notify($1, $2)", CHANNEL, text).execute(conn).await?;
    Ok(())
}
