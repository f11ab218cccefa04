//! What is made sooner over all rows at once than kept with each of them: indexes, and keys to other tables.

use sqlx::{AssertSqlSafe, PgConnection};

use crate::StoreError;

/// Keys to other tables; then what finds rows, and what keeps them apart.
const KEYS: &str = "
    select format('alter table %s drop constraint %I', conrelid::regclass, conname),
        format('alter table %s add constraint %I %s', conrelid::regclass, conname, pg_get_constraintdef(oid))
    from pg_constraint where contype = 'f' and connamespace = current_schema()::regnamespace
    order by conrelid::regclass::text, conname";
const INDEXES: &str = "
    select case when k.oid is null then format('drop index %s', i.indexrelid::regclass)
            else format('alter table %s drop constraint %I', i.indrelid::regclass, k.conname) end,
        case when k.oid is null then pg_get_indexdef(i.indexrelid)
            else format('alter table %s add constraint %I %s', i.indrelid::regclass, k.conname, pg_get_constraintdef(k.oid)) end
    from pg_index i join pg_class c on c.oid = i.indrelid
    left join pg_constraint k on k.conindid = i.indexrelid and k.contype in ('p', 'u', 'x')
    where c.relnamespace = current_schema()::regnamespace and c.relkind = 'r'
    order by i.indexrelid";

/// Statements that put back what was taken away.
pub(super) struct TakenAway(Vec<String>);

impl TakenAway {
    /// Takes keys to other tables away.
    pub async fn keys(conn: &mut PgConnection) -> Result<Self, StoreError> {
        Self::all(conn, KEYS).await
    }

    /// Takes indexes away, and what stands on them; no key may hold on to them.
    pub async fn indexes(conn: &mut PgConnection) -> Result<Self, StoreError> {
        Self::all(conn, INDEXES).await
    }

    async fn all(conn: &mut PgConnection, which: &'static str) -> Result<Self, StoreError> {
        let found: Vec<(String, String)> = sqlx::query_as(which).fetch_all(&mut *conn).await?;
        let mut back = Vec::with_capacity(found.len());
        for (away, again) in found {
            run(conn, away).await?;
            back.push(again);
        }
        Ok(Self(back))
    }

    /// Puts it back, if the rows allow it; what was put back is not put back again.
    pub async fn put_back(&mut self, conn: &mut PgConnection) -> Result<(), StoreError> {
        for statement in std::mem::take(&mut self.0) {
            run(conn, statement).await?;
        }
        Ok(())
    }
}

pub(super) async fn run(conn: &mut PgConnection, statement: String) -> Result<(), StoreError> {
    sqlx::raw_sql(AssertSqlSafe(statement)).execute(conn).await?;
    Ok(())
}
