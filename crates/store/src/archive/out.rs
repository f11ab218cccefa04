//! One moment of the site, on its way out.

use std::io::Write;

use chrono::{DateTime, Utc};
use sqlx::{PgPool, Postgres, Transaction};

use super::lines;
use super::tables::{Table, tables};
use crate::act::snapshot;
use crate::once::compiled_once;
use crate::trail::{Seal, seal};
use crate::{MIGRATIONS, StoreError, sites};

/// One moment of the site, whatever is saved meanwhile.
pub struct Outgoing {
    tx: Transaction<'static, Postgres>,
    /// The migration that the tables are of.
    pub schema: i64,
    /// Its name.
    pub site: String,
    /// Where all chains of its trail end.
    pub seal: Seal,
    /// What there is to write.
    pub tables: Vec<Table>,
}

impl Outgoing {
    /// Begins at this moment, on a database that is up to date.
    ///
    /// # Errors
    /// When the database fails.
    #[compiled_once]
    pub async fn begin(pool: &PgPool, now: DateTime<Utc>) -> Result<Self, StoreError> {
        let mut tx = snapshot(pool).await?;
        sqlx::query("set local timezone to 'UTC'").execute(&mut *tx).await?;
        let schema = MIGRATIONS.iter().map(|migration| migration.version).max().unwrap_or_default();
        let site = sites::site(&mut *tx).await?.name;
        let seal = seal(&mut *tx, now).await?;
        let tables = tables(&mut tx).await?;
        Ok(Self { tx, schema, site, seal, tables })
    }

    /// Writes the rows of a table, a line of JSON each; gives how many there are.
    ///
    /// # Errors
    /// When the database fails, or nothing can be written.
    pub async fn write(&mut self, table: &Table, to: &mut impl Write) -> Result<u64, StoreError> {
        lines::write(&mut self.tx, table, to).await
    }
}
