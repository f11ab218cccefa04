//! Two roles of PostgreSQL: one owns the tables and brings them up to date, the other serves. Who serves
//! cannot change what stands in the trail, nor switch off what guards it.

use sqlx::{AssertSqlSafe, PgPool};

use crate::once::compiled_once;
use crate::{MIGRATIONS, StoreError};

/// What a role of the database may do here.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum DatabaseRole {
    /// It owns the tables, or may make them where there are none.
    Owner,
    /// It serves from tables that are up to date.
    Serves,
    /// The tables are not there or not up to date, and it may not change that.
    NotUpToDate,
}

/// What the role of these connections may do.
#[compiled_once]
pub async fn role(pool: &PgPool) -> Result<DatabaseRole, StoreError> {
    let there: Option<bool> = sqlx::query_scalar(
        "select pg_has_role(current_user, relowner, 'usage') from pg_class where oid = to_regclass('trail')",
    )
    .fetch_optional(pool)
    .await?;
    let owns = match there {
        Some(owns) => owns,
        None => sqlx::query_scalar("select has_schema_privilege(current_schema(), 'create')").fetch_one(pool).await?,
    };
    if owns {
        return Ok(DatabaseRole::Owner);
    }
    Ok(if there.is_some() && up_to_date(pool).await? { DatabaseRole::Serves } else { DatabaseRole::NotUpToDate })
}

/// Whether the tables are those of this program.
#[compiled_once]
pub async fn up_to_date(pool: &PgPool) -> Result<bool, StoreError> {
    let there: bool = sqlx::query_scalar("select to_regclass('_sqlx_migrations') is not null").fetch_one(pool).await?;
    if !there {
        return Ok(false);
    }
    let applied: Vec<i64> = sqlx::query_scalar("select version from _sqlx_migrations where success order by version")
        .fetch_all(pool)
        .await?;
    Ok(applied == MIGRATIONS.iter().map(|migration| migration.version).collect::<Vec<_>>())
}

/// Lets a role log in with a password; it is made when there is none.
///
/// # Errors
/// When one's own role may not make roles.
#[compiled_once]
pub async fn let_log_in(pool: &PgPool, role: &str, password: &str) -> Result<(), StoreError> {
    let exists: bool = sqlx::query_scalar("select exists (select from pg_roles where rolname = $1)")
        .bind(role)
        .fetch_one(pool)
        .await?;
    let verb = if exists { "alter" } else { "create" };
    let statement: String = sqlx::query_scalar("select format('%s role %I login password %L', $1, $2, $3)")
        .bind(verb)
        .bind(role)
        .bind(password)
        .fetch_one(pool)
        .await?;
    // Name and password are quoted by the database itself.
    sqlx::raw_sql(AssertSqlSafe(statement)).execute(pool).await?;
    Ok(())
}

/// Lets a role serve: it reads and writes all tables, but the trail, to which it can only append.
///
/// # Errors
/// When there is no such role, or the tables are not one's own.
#[compiled_once]
pub async fn let_serve(pool: &PgPool, role: &str) -> Result<(), StoreError> {
    let role: String = sqlx::query_scalar("select quote_ident($1)").bind(role).fetch_one(pool).await?;
    let schema: String = sqlx::query_scalar("select quote_ident(current_schema())").fetch_one(pool).await?;
    let grants = format!(
        "grant usage on schema {schema} to {role};
         grant select, insert, update, delete on all tables in schema {schema} to {role};
         revoke update, delete, truncate, references, trigger on trail from {role};
         revoke insert, update, delete on _sqlx_migrations from {role};
         revoke delete on trail_head from {role};"
    );
    // The names are quoted by the database itself.
    sqlx::raw_sql(AssertSqlSafe(grants)).execute(pool).await?;
    Ok(())
}
