//! The sample that something is done at.

use chrono::{DateTime, Utc};
use quality::limits::LimitsRefusal;
use quality::object::ObjectKind;
use sqlx::PgConnection;
use uuid::Uuid;

use crate::StoreError;
use crate::once::compiled_once;
use crate::series::Rank;

/// A sample of the characteristic, as far as limits look at it.
pub(super) struct Sample {
    pub id: Uuid,
    pub number: i64,
    pub taken_at: DateTime<Utc>,
    pub gap: bool,
    pub aside: bool,
    pub restart: bool,
}

impl Sample {
    /// The sample with this id.
    ///
    /// # Errors
    /// When the characteristic has none such.
    #[compiled_once]
    pub async fn find(conn: &mut PgConnection, characteristic: Uuid, id: Uuid) -> Result<Self, StoreError> {
        sqlx::query_as!(
            Self,
            r#"select id, number, taken_at, gap as "gap!", aside, restart from sample
               where id = $1 and characteristic_id = $2"#,
            id,
            characteristic
        )
        .fetch_optional(conn)
        .await?
        .ok_or(StoreError::Missing(ObjectKind::Sample))
    }

    /// As [`Sample::find`], where something was measured.
    ///
    /// # Errors
    /// Also for a gap.
    #[compiled_once]
    pub async fn measured(conn: &mut PgConnection, characteristic: Uuid, id: Uuid) -> Result<Self, StoreError> {
        let sample = Self::find(conn, characteristic, id).await?;
        if sample.gap { Err(LimitsRefusal::Gap.into()) } else { Ok(sample) }
    }

    pub fn rank(&self) -> Rank {
        (self.taken_at, self.number)
    }
}
