//! The answer to whoever has something made.

use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

/// What was made.
#[derive(Serialize, ToSchema)]
pub struct Created {
    pub id: Uuid,
}
