//! Tables are read beside the requests of others.

use formats::shape::WrongRecipe;

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

impl From<WrongRecipe> for Failure {
    fn from(WrongRecipe { path, given, allowed }: WrongRecipe) -> Self {
        Self::RecipeRefused { path, given, allowed }
    }
}
