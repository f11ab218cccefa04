//! What requests come to.

use std::time::Duration;

use uuid::Uuid;

/// What one request came to.
pub struct Done {
    pub by_device: bool,
    pub took: Duration,
    /// Entries that the server confirmed.
    pub confirmed: Vec<Uuid>,
    pub error: Option<String>,
}
