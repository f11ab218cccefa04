//! Signals of a database from before there were episodes.

use chrono::Utc;
use quality::signal::SignalState;
use sqlx::PgPool;
use uuid::Uuid;

use super::extent::{Extent, Ground};
use super::gather::{Reviewed, put_together};
use super::member::{Member, Which, members};
use crate::StoreError;
use crate::act::Act;
use crate::phases::phases;

/// Gathers signals that are in no episode, characteristic after characteristic; safe when several instances start at
/// once. What was reviewed was reviewed signal by signal, and is gathered by itself; so is what holds no more.
pub(crate) async fn gather_older(pool: &PgPool) -> Result<(), StoreError> {
    let characteristics = sqlx::query_scalar!("select distinct characteristic_id from signal where episode_id is null");
    for characteristic in characteristics.fetch_all(pool).await? {
        let mut act = Act::begin(pool).await?;
        let setup = act.take(characteristic).await?;
        let phases = phases(act.conn(), characteristic).await?;
        let ground = Ground { setup: &setup, phases: &phases };
        let ids = sqlx::query_scalar!(
            "select id from signal where characteristic_id = $1 and episode_id is null",
            characteristic
        );
        let ids: Vec<Uuid> = ids.fetch_all(act.conn()).await?;
        if ids.is_empty() {
            continue;
        }
        let all = members(act.conn(), characteristic, Which { ids: &ids, ..Which::default() }).await?;
        let (gone, holding): (Vec<Member>, Vec<Member>) = all.into_iter().partition(|signal| signal.withdrawn);
        let (reviewed, asking): (Vec<Member>, Vec<Member>) =
            holding.iter().partition(|signal| signal.state == SignalState::Reviewed);
        for signals in [reviewed, asking, gone] {
            if let Some(extent) = signals.iter().map(|signal| signal.extent).reduce(Extent::and) {
                put_together(&mut act, ground, &signals, (extent, &[]), Reviewed::IsGathered, Utc::now()).await?;
            }
        }
        act.commit().await?;
    }
    Ok(())
}
