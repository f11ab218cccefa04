//! How far a stretch of signals without a clean point reaches, and the episodes in it.

use sqlx::PgConnection;
use uuid::Uuid;

use quality::episode::Aspect;
use quality::signal::SignalState;
use spc::rules::Side;

use crate::characteristics::CharacteristicView;
use crate::once::compiled_once;
use crate::phases::{Phase, holding};
use crate::series::Rank;
use crate::{StoreError, word};

/// First and last point of something.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Extent {
    pub from: Rank,
    pub to: Rank,
}

impl Extent {
    /// Both, and what lies between them.
    pub fn and(self, other: Self) -> Self {
        Self { from: self.from.min(other.from), to: self.to.max(other.to) }
    }
}

/// An episode that holds.
#[derive(Debug, Clone, Copy)]
pub(super) struct Standing {
    pub id: Uuid,
    pub aspect: Aspect,
    pub side: Option<Side>,
    pub state: SignalState,
    pub extent: Extent,
}

/// The points of a characteristic, and what parts them.
#[derive(Clone, Copy)]
pub(super) struct Ground<'a> {
    pub setup: &'a CharacteristicView,
    pub phases: &'a [Phase],
}

impl Ground<'_> {
    /// Which phase and scheme hold at a point: where they change, nothing reaches across.
    pub fn epoch(&self, at: Rank) -> (usize, usize) {
        (holding(self.phases, at.0), self.setup.schemes().holding(at.0))
    }

    /// Whether one stretch holds what ends at a point and what begins behind it: no tested point and no cut between.
    async fn adjoin(&self, conn: &mut PgConnection, ends: Rank, begins: Rank) -> Result<bool, StoreError> {
        if self.epoch(ends) != self.epoch(begins) {
            return Ok(false);
        }
        let parted = sqlx::query_scalar!(
            r#"select exists (select from sample where characteristic_id = $1
                   and (taken_at, number) > ($2, $3) and (taken_at, number) <= ($4, $5)
                   and (restart or not gap and not aside and (taken_at, number) < ($4, $5))) as "parted!""#,
            self.setup.id,
            ends.0,
            ends.1,
            begins.0,
            begins.1
        );
        Ok(!parted.fetch_one(conn).await?)
    }

    /// The episodes that touch `extent`, and those that touch them, as far as one stretch reaches.
    #[compiled_once]
    pub async fn stretch(
        &self,
        conn: &mut PgConnection,
        mut extent: Extent,
    ) -> Result<(Vec<Standing>, Extent), StoreError> {
        let mut found: Vec<Standing> = Vec::new();
        loop {
            let known: Vec<Uuid> = found.iter().map(|episode| episode.id).collect();
            let mut more = self.meeting(&mut *conn, extent, &known).await?;
            if more.is_empty() {
                for beside in self.beside(&mut *conn, extent).await? {
                    let (ends, begins) = if beside.extent.to < extent.from {
                        (beside.extent.to, extent.from)
                    } else {
                        (extent.to, beside.extent.from)
                    };
                    if self.adjoin(&mut *conn, ends, begins).await? {
                        more.push(beside);
                    }
                }
            }
            if more.is_empty() {
                return Ok((found, extent));
            }
            extent = more.iter().fold(extent, |all, episode| all.and(episode.extent));
            found.extend(more);
        }
    }

    /// Episodes with points in `extent`.
    async fn meeting(
        &self,
        conn: &mut PgConnection,
        extent: Extent,
        known: &[Uuid],
    ) -> Result<Vec<Standing>, StoreError> {
        sqlx::query_as!(
            Row,
            // Most begin before, however many there are; few end later, and these alone are looked through.
            "with later as materialized (
                 select id, aspect, side, state, from_taken_at, from_number, to_taken_at, to_number from episode
                 where characteristic_id = $1 and not gone and run_id is null and (to_taken_at, to_number) >= ($3, $4))
             select * from later where id <> all($2) and (from_taken_at, from_number) <= ($5, $6)",
            self.setup.id,
            known,
            extent.from.0,
            extent.from.1,
            extent.to.0,
            extent.to.1
        )
        .fetch_all(conn)
        .await?
        .into_iter()
        .map(Row::read)
        .collect()
    }

    /// The last episode that ends before `extent`, and the first that begins behind it.
    async fn beside(&self, conn: &mut PgConnection, extent: Extent) -> Result<Vec<Standing>, StoreError> {
        sqlx::query_as!(
            Row,
            r#"(select id as "id!", aspect as "aspect!", side, state as "state!", from_taken_at as "from_taken_at!",
                       from_number as "from_number!", to_taken_at as "to_taken_at!", to_number as "to_number!"
                from episode where characteristic_id = $1 and not gone and run_id is null
                  and (to_taken_at, to_number) < ($2, $3)
                order by to_taken_at desc, to_number desc limit 1)
               union all
               (select id, aspect, side, state, from_taken_at, from_number, to_taken_at, to_number
                from episode where characteristic_id = $1 and not gone and run_id is null
                  and (from_taken_at, from_number) > ($4, $5)
                order by from_taken_at, from_number limit 1)"#,
            self.setup.id,
            extent.from.0,
            extent.from.1,
            extent.to.0,
            extent.to.1
        )
        .fetch_all(conn)
        .await?
        .into_iter()
        .map(Row::read)
        .collect()
    }
}

struct Row {
    id: Uuid,
    aspect: String,
    side: Option<String>,
    state: String,
    from_taken_at: chrono::DateTime<chrono::Utc>,
    from_number: i64,
    to_taken_at: chrono::DateTime<chrono::Utc>,
    to_number: i64,
}

impl Row {
    fn read(self) -> Result<Standing, StoreError> {
        let (from, to) = ((self.from_taken_at, self.from_number), (self.to_taken_at, self.to_number));
        Ok(Standing {
            id: self.id,
            aspect: word::value(self.aspect)?,
            side: self.side.map(word::value).transpose()?,
            state: word::value(self.state)?,
            extent: Extent { from, to },
        })
    }
}
