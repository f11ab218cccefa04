//! Rows of a table as lines of JSON, as they stand, in the order of its key.

use std::io::Write;

use futures::TryStreamExt;
use sqlx::PgConnection;

use super::tables::{Table, order, quoted};
use crate::StoreError;

/// Writes the rows of a table, each a line; gives how many there are.
pub(super) async fn write(conn: &mut PgConnection, table: &Table, to: &mut impl Write) -> Result<u64, StoreError> {
    let (columns, name, order) = (table.columns("t."), quoted(&table.name), order(conn, table).await?);
    let copy =
        format!("copy (select row_to_json(r) from (select {columns} from {name} t order by {order}) r) to stdout");
    let mut rows = conn.copy_out_raw(&copy).await?;
    let (mut many, mut plain, mut half) = (0, vec![], false);
    while let Some(bytes) = rows.try_next().await? {
        plain.clear();
        for &byte in &bytes {
            // The database writes each backslash twice; of all else that it would escape JSON has none.
            if byte == b'\\' && !half {
                half = true;
                continue;
            }
            half = false;
            many += u64::from(byte == b'\n');
            plain.push(byte);
        }
        to.write_all(&plain).map_err(sqlx::Error::Io)?;
    }
    Ok(many)
}
