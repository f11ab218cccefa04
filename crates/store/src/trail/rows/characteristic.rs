//! All that belongs to a characteristic.

use std::collections::HashMap;

use serde_json::Value;
use sqlx::PgConnection;
use uuid::Uuid;

use super::answers::{additions, files, planned_restarts};
use super::limits::limits;
use super::samples::{counted, notes, samples};
use super::signals::{episodes, escalated, signals};
use crate::StoreError;
use crate::trail::expected::Expected;
use crate::trail::report::Report;

/// Samples, corrections, notes, limits, signals, answers and reviews of one characteristic.
pub(in crate::trail) async fn of_characteristic(
    conn: &mut PgConnection,
    id: Uuid,
    expected: &Expected,
    limits_before: &HashMap<Uuid, Value>,
    report: &mut Report,
) -> Result<(), StoreError> {
    samples(&mut *conn, id, expected, report).await?;
    counted(&mut *conn, id, report).await?;
    notes(&mut *conn, id, &expected.notes, report).await?;
    signals(&mut *conn, id, &expected.signals, report).await?;
    episodes(&mut *conn, id, report).await?;
    limits(&mut *conn, id, expected, limits_before, report).await?;
    additions(&mut *conn, id, &expected.additions, report).await?;
    files(&mut *conn, id, &expected.files, report).await?;
    escalated(&mut *conn, id, &expected.escalated, report).await?;
    planned_restarts(conn, id, &expected.planned_restarts, report).await
}
