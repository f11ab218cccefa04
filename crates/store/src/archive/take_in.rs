//! An archived site, on its way into an empty database: all of it or nothing.

use std::io::{BufRead, Write};

use sqlx::{AssertSqlSafe, PgPool, Postgres, Transaction};
use thiserror::Error;

use super::lines;
use super::tables::{Table, quoted, tables};
use super::taken_away::{TakenAway, run};
use crate::once::compiled_once;
use crate::{MIGRATIONS, StoreError};

/// Bytes that are sent to the database at once.
const AT_ONCE: usize = 8 << 20;

/// Memory that the database may sort rows in for an index.
const SORTED_IN: &str = "256MB";

/// Why a site is not taken in.
#[derive(Debug, Error)]
pub enum NotTakenIn {
    /// Somebody works with it.
    #[error("the database is not empty: it has people")]
    NotEmpty,
    /// It was written by a program with tables that this one does not know.
    #[error("the archive is of schema {0}, which this program does not know")]
    Schema(i64),
    /// The tables are not those of its schema.
    #[error("the table {0} is not as the archive describes it")]
    Table(String),
    /// The database failed.
    #[error(transparent)]
    Store(#[from] StoreError),
}

impl From<sqlx::Error> for NotTakenIn {
    fn from(error: sqlx::Error) -> Self {
        Self::Store(error.into())
    }
}

/// A site that is taken in.
pub struct Incoming {
    tx: Transaction<'static, Postgres>,
    keys: TakenAway,
    indexes: TakenAway,
}

impl Incoming {
    /// Begins to take tables of a schema in, as the role that owns the tables or may make them.
    ///
    /// # Errors
    /// When somebody works with the database, or it cannot hold such tables.
    #[compiled_once]
    pub async fn begin(pool: &PgPool, schema: i64, given: &[Table]) -> Result<Self, NotTakenIn> {
        let there: bool = sqlx::query_scalar("select to_regclass('person') is not null").fetch_one(pool).await?;
        if there && sqlx::query_scalar("select exists (select from person)").fetch_one(pool).await? {
            return Err(NotTakenIn::NotEmpty);
        }
        if !MIGRATIONS.iter().any(|migration| migration.version == schema) {
            return Err(NotTakenIn::Schema(schema));
        }
        MIGRATIONS.run_to(schema, pool).await.map_err(sqlx::Error::from)?;
        let mut tx = pool.begin().await?;
        sqlx::query("set local timezone to 'UTC'").execute(&mut *tx).await?;
        let tables = tables(&mut tx).await?;
        let differs = |at: usize| tables.get(at) != given.get(at);
        if let Some(at) = (0..tables.len().max(given.len())).find(|at| differs(*at)) {
            let name = given.get(at).or(tables.get(at)).map(|table| table.name.clone());
            return Err(NotTakenIn::Table(name.unwrap_or_default()));
        }
        let keys = TakenAway::keys(&mut tx).await?;
        for table in &tables {
            let name = quoted(&table.name);
            // What they would add is in the archive; what a migration put there too.
            run(&mut tx, format!("alter table {name} disable trigger user; delete from {name}")).await?;
        }
        // What a sample belongs to is no key to another table, but comes before it by name.
        let belongs = "select exists (select from pg_trigger where tgname = 'sample_belongs')";
        if sqlx::query_scalar(belongs).fetch_one(&mut *tx).await? {
            run(&mut tx, "alter table sample enable trigger sample_belongs".into()).await?;
        }
        let indexes = TakenAway::indexes(&mut tx).await?;
        sqlx::query("create temporary table incoming (line text not null) on commit drop").execute(&mut *tx).await?;
        Ok(Self { tx, keys, indexes })
    }

    /// Takes the rows of a table in, a line of JSON each; gives how many there are.
    ///
    /// # Errors
    /// When a line is none of the table, or cannot be read.
    pub async fn read(&mut self, table: &Table, from: &mut impl BufRead) -> Result<u64, StoreError> {
        let name = quoted(&table.name);
        let insert = format!(
            "insert into {name} ({}) overriding system value
             select {} from incoming i cross join lateral json_populate_record(null::{name}, i.line::json) r",
            table.columns(""),
            table.columns("r.")
        );
        let (mut many, mut lines, mut more) = (0, Vec::with_capacity(AT_ONCE), true);
        while more {
            lines.clear();
            while lines.len() < AT_ONCE && more {
                more = from.read_until(b'\n', &mut lines).map_err(sqlx::Error::Io)? > 0;
            }
            if lines.is_empty() {
                break;
            }
            let mut copy = self.tx.copy_in_raw("copy incoming from stdin").await?;
            copy.send(twice(&lines)).await?;
            copy.finish().await?;
            many += sqlx::raw_sql(AssertSqlSafe(insert.clone())).execute(&mut *self.tx).await?.rows_affected();
            run(&mut self.tx, "truncate incoming".into()).await?;
        }
        Ok(many)
    }

    /// All rows are there: they can be told apart, and found.
    ///
    /// # Errors
    /// When two of them are one.
    #[compiled_once]
    pub async fn complete(&mut self) -> Result<(), StoreError> {
        run(&mut self.tx, format!("set local maintenance_work_mem = '{SORTED_IN}'")).await?;
        self.indexes.put_back(&mut self.tx).await
    }

    /// Writes a table out again, in the order of its key, so that it can be held against the archive.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn write(&mut self, table: &Table, to: &mut impl Write) -> Result<u64, StoreError> {
        lines::write(&mut self.tx, table, to).await
    }

    /// Puts keys and triggers back, and keeps it all.
    ///
    /// # Errors
    /// When a row names one that is not there.
    #[compiled_once]
    pub async fn keep(mut self) -> Result<(), StoreError> {
        self.keys.put_back(&mut self.tx).await?;
        for table in tables(&mut self.tx).await? {
            run(&mut self.tx, format!("alter table {} enable trigger user", quoted(&table.name))).await?;
        }
        self.count_on().await?;
        Ok(self.tx.commit().await?)
    }

    /// Numbers that the database gives go on after those that are there.
    async fn count_on(&mut self) -> Result<(), StoreError> {
        let counted: Vec<(String, String)> = sqlx::query_as(
            "select c.relname::text, a.attname::text from pg_class c join pg_attribute a on a.attrelid = c.oid
             where c.relnamespace = current_schema()::regnamespace and c.relkind = 'r' and a.attidentity <> ''",
        )
        .fetch_all(&mut *self.tx)
        .await?;
        for (table, column) in counted {
            let (name, last) = (quoted(&table), quoted(&column));
            let sequence = "pg_get_serial_sequence(quote_ident($1), $2)";
            let statement = format!("select setval({sequence}, max({last})) from {name} having count(*) > 0");
            sqlx::query(AssertSqlSafe(statement)).bind(&table).bind(&column).execute(&mut *self.tx).await?;
        }
        Ok(())
    }
}

/// As `copy` reads lines: each backslash twice.
fn twice(lines: &[u8]) -> Vec<u8> {
    let mut escaped = Vec::with_capacity(lines.len() + lines.len() / 8);
    for &byte in lines {
        if byte == b'\\' {
            escaped.push(byte);
        }
        escaped.push(byte);
    }
    escaped
}
