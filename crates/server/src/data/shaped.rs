//! Tables are read beside the requests of others, and their samples become rows to check.

use formats::shape::{Content, Recipe, Sample, Samples, Shaped, WrongRecipe, shape};
use quality::import::{ImportRow, RowContent};
use serde_json::Value;

use crate::app::App;
use crate::failure::Failure;
use crate::problem::Problem;

/// Does heavy work in its turn, beside the requests of others.
pub(super) async fn beside<T: Send + 'static>(
    app: &App,
    work: impl FnOnce() -> T + Send + 'static,
) -> Result<T, Problem> {
    let _place = app.analyses.place()?;
    let turn = app.analyses.turn().await?;
    let done = tokio::task::spawn_blocking(move || {
        let _turn = turn;
        work()
    });
    done.await.map_err(|error| Problem::internal(&error))
}

/// Draws the samples of a file.
pub(super) fn samples(content: &[u8], recipe: &Value) -> Result<Shaped, WrongRecipe> {
    shape(&Recipe::from_json(&recipe.to_string())?, content)
}

/// Samples as rows to check, without some of their tags.
pub(super) fn rows<'a>(samples: &'a Samples, without: &[String]) -> impl Iterator<Item = ImportRow<'a>> {
    samples.iter().enumerate().map(move |(place, sample)| ImportRow {
        row: sample.row(),
        place,
        time: sample.time(),
        content: content(&sample),
        tags: sample.tags().filter(|(tag, _)| !without.iter().any(|left| left == tag)).collect(),
    })
}

fn content<'a>(sample: &Sample<'a>) -> RowContent<'a> {
    match sample.content() {
        Content::Readings([]) | Content::Counted { count: None, .. } => RowContent::Gap,
        Content::Readings(values) => {
            RowContent::Readings(values.iter().map(|value| (!value.is_nan()).then_some(*value)).collect())
        }
        Content::Counted { count: Some(count), inspected } => {
            RowContent::Counted { count, inspected, kinds: sample.of_kinds().collect() }
        }
    }
}

impl From<WrongRecipe> for Failure {
    fn from(WrongRecipe { path, given, allowed }: WrongRecipe) -> Self {
        Self::RecipeRefused { path, given, allowed }
    }
}
