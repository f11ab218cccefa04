//! An import that waits is taken back.

use quality::object::ObjectKind;
use quality::version::Changed;
use sqlx::PgPool;
use uuid::Uuid;

use crate::StoreError;
use crate::act::Act;
use crate::news::News;
use crate::once::compiled_once;

/// Cancels an import that waits or is under way; nothing of it was kept.
///
/// # Errors
/// When there is none such, or it is done already.
#[compiled_once]
pub async fn cancel(pool: &PgPool, import: Uuid) -> Result<(), StoreError> {
    let mut act = Act::begin(pool).await?;
    // Whoever makes it holds this row until it is made.
    sqlx::query!("delete from judging_again where change -> 'import' ->> 'import' = $1", import.to_string())
        .execute(act.conn())
        .await?;
    let cancelled = sqlx::query_scalar!(
        "update import set state = 'cancelled', ended_at = now() where id = $1 and state in ('staged', 'waiting')
         returning characteristic_id",
        import
    );
    let Some(characteristic) = cancelled.fetch_optional(act.conn()).await? else {
        let there = sqlx::query_scalar!(r#"select exists (select from import where id = $1) as "there!""#, import);
        return Err(match there.fetch_one(act.conn()).await? {
            true => Changed(ObjectKind::Import).into(),
            false => StoreError::Missing(ObjectKind::Import),
        });
    };
    sqlx::query!("delete from import_sample where import_id = $1", import).execute(act.conn()).await?;
    act.tell(News::Limits { characteristic });
    act.keep().await
}
