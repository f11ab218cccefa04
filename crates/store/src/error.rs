use quality::correction::NotYours;
use quality::run::RunRefusal;
use quality::setup::Wrong;
use quality::signal::StepError;
use thiserror::Error;

/// What can go wrong between the rules of the job and the database.
#[derive(Debug, Error)]
pub enum StoreError {
    /// There is no such object.
    #[error("there is no such {0}")]
    Missing(&'static str),
    /// The entry id was used before, for other readings.
    #[error("the entry id was used before for another sample")]
    EntryReused,
    /// There is another object of that name.
    #[error("the {0} is taken")]
    Taken(&'static str),
    /// A set-up that cannot be.
    #[error("{} fields are refused", .0.len())]
    Wrong(Vec<Wrong>),
    /// Who asks may not change the sample.
    #[error(transparent)]
    NotYours(#[from] NotYours),
    /// Old samples would mean something else.
    #[error("kind of data, pieces, unit, components and counted kinds stay as they are once there are samples")]
    HasSamples,
    /// A run does not allow the step.
    #[error(transparent)]
    Run(#[from] RunRefusal),
    /// The rules of the job refuse the step.
    #[error(transparent)]
    Step(#[from] StepError),
    /// The database failed.
    #[error("database: {0}")]
    Database(#[from] sqlx::Error),
    /// A stored value cannot be read, or readings that were accepted cannot be charted.
    #[error("stored data: {0}")]
    Corrupt(String),
}

impl StoreError {
    /// The database cannot be reached, or is about to go or to come: the same may succeed in a moment.
    pub fn is_away(&self) -> bool {
        let Self::Database(error) = self else { return false };
        match error {
            sqlx::Error::PoolTimedOut | sqlx::Error::PoolClosed | sqlx::Error::Io(_) => true,
            // 57P01…57P03: shutting down, crashed, starting; class 08: connection; 53300: too many connections.
            sqlx::Error::Database(error) => {
                error.code().is_some_and(|code| code.starts_with("57P0") || code.starts_with("08") || code == "53300")
            }
            _ => false,
        }
    }
}

impl From<serde_json::Error> for StoreError {
    fn from(error: serde_json::Error) -> Self {
        Self::Corrupt(error.to_string())
    }
}

impl From<spc::chart::Problem> for StoreError {
    fn from(problem: spc::chart::Problem) -> Self {
        Self::Corrupt(problem.to_string())
    }
}
