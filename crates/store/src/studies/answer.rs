//! Answering a question from the data as they are.

use chrono::{DateTime, Utc};
use quality::study::{DataState, Question};
use sqlx::PgPool;

use super::found::StudyAnswer;
use super::read::Read;
use super::state::state;
use crate::StoreError;
use crate::act::snapshot;
use crate::once::compiled_once;

/// Answers a question; all of it from one state of the data, which comes with it.
///
/// # Errors
/// A field that cannot be as given, a characteristic or phase that is missing, and why nothing can be answered.
#[compiled_once]
pub async fn answer(
    pool: &PgPool,
    question: &Question,
    now: DateTime<Utc>,
) -> Result<(StudyAnswer, DataState), StoreError> {
    question.check()?;
    let mut seen = snapshot(pool).await?;
    let read = Read::of(&mut seen, question).await?;
    let state = state(&mut seen, &question.characteristics()).await?;
    // Of a hundred thousand values the answer takes a part of a second, in which others are served.
    drop(seen);
    let answered = tokio::task::spawn_blocking(move || read.answer(now)).await;
    let found = answered.map_err(|error| StoreError::Corrupt(error.to_string()))??;
    Ok((found, state))
}
