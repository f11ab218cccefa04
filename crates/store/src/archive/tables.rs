//! What is archived: every table but those that belong to a running server alone.

use serde::{Deserialize, Serialize};
use sqlx::PgConnection;

use crate::StoreError;

/// Sessions are keys to the site, tries at passwords are of their hour, and which migrations ran the manifest says.
const LEFT_OUT: [&str; 3] = ["session", "sign_in_attempt", "_sqlx_migrations"];

/// A table with what is written of it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Table {
    pub name: String,
    /// In their order; those that the database computes are left out.
    pub columns: Vec<Column>,
}

/// A column of it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Column {
    pub name: String,
    /// As PostgreSQL calls it.
    #[serde(rename = "type")]
    pub holds: String,
}

impl Table {
    /// Its columns, as a statement names them.
    pub(super) fn columns(&self, before: &str) -> String {
        let names: Vec<String> =
            self.columns.iter().map(|column| format!("{before}{}", quoted(&column.name))).collect();
        names.join(", ")
    }
}

/// A name as a statement holds it, whatever it is.
pub(super) fn quoted(name: &str) -> String {
    format!("\"{}\"", name.replace('"', "\"\""))
}

/// The tables that are there, by name.
pub(super) async fn tables(conn: &mut PgConnection) -> Result<Vec<Table>, StoreError> {
    let columns: Vec<(String, String, String)> = sqlx::query_as(
        "select c.relname::text, a.attname::text, format_type(a.atttypid, a.atttypmod)
         from pg_class c join pg_attribute a on a.attrelid = c.oid
         where c.relnamespace = current_schema()::regnamespace and c.relkind = 'r' and a.attnum > 0
           and not a.attisdropped and a.attgenerated = '' and c.relname <> all($1)
         order by c.relname, a.attnum",
    )
    .bind(LEFT_OUT.map(str::to_owned))
    .fetch_all(conn)
    .await?;
    let mut tables: Vec<Table> = vec![];
    for (table, name, holds) in columns {
        let column = Column { name, holds };
        match tables.last_mut().filter(|last| last.name == table) {
            Some(last) => last.columns.push(column),
            None => tables.push(Table { name: table, columns: vec![column] }),
        }
    }
    Ok(tables)
}

/// The columns that tell its rows apart, as an order; all that stands there, where none do.
pub(super) async fn order(conn: &mut PgConnection, table: &Table) -> Result<String, StoreError> {
    let key: Vec<String> = sqlx::query_scalar(
        "select quote_ident(a.attname) from pg_index i cross join unnest(i.indkey) with ordinality k(attnum, place)
         join pg_attribute a on a.attrelid = i.indrelid and a.attnum = k.attnum
         where i.indisprimary and i.indrelid = (quote_ident(current_schema()) || '.' || quote_ident($1))::regclass
         order by k.place",
    )
    .bind(&table.name)
    .fetch_all(conn)
    .await?;
    Ok(if key.is_empty() { "t::text".into() } else { key.join(", ") })
}
