//! What can go wrong between the rules of the job and the database.

use quality::account::AccountRefusal;
use quality::correction::NotYours;
use quality::episode::EpisodeRefusal;
use quality::field::WrongField;
use quality::limits::LimitsRefusal;
use quality::note::NotYourNote;
use quality::object::ObjectKind;
use quality::run::RunRefusal;
use quality::setup::SetUpRefusal;
use quality::study::StudyRefusal;
use quality::version::Changed;
use thiserror::Error;

/// What can go wrong: the rules of the job refuse it, each area in its own words, or the database fails.
#[derive(Debug, Error)]
pub enum StoreError {
    /// There is no such object.
    #[error("there is no such {0:?}")]
    Missing(ObjectKind),
    /// Somebody acted first.
    #[error(transparent)]
    Changed(#[from] Changed),
    /// The entry id was used before, for something else.
    #[error("the entry id was used before for something else")]
    EntryReused,
    /// A rare event was entered for the same moment.
    #[error("an event was entered for the same moment")]
    EventThere,
    /// So many rows of a list differ from what was stored of it that it may be another one.
    #[error("{changed} of the rows that were stored differ")]
    AnotherList {
        /// Rows that are as they were.
        same: usize,
        /// Rows that differ.
        changed: usize,
    },
    /// Rows of a list are known by other columns since it was first brought in.
    #[error("the rows of the list are known by {key:?}")]
    KnownOtherwise {
        /// These; none where they are known by their numbers.
        key: Vec<String>,
    },
    /// A field cannot be as it is given.
    #[error(transparent)]
    Field(#[from] WrongField),
    /// A set-up that cannot be.
    #[error(transparent)]
    SetUp(#[from] SetUpRefusal),
    /// An account does not allow the step.
    #[error(transparent)]
    Account(#[from] AccountRefusal),
    /// Who asks may not change the sample.
    #[error(transparent)]
    Sample(#[from] NotYours),
    /// Who asks may not change the note.
    #[error(transparent)]
    Note(#[from] NotYourNote),
    /// Limits cannot be put in force.
    #[error(transparent)]
    Limits(#[from] LimitsRefusal),
    /// An episode does not allow the step.
    #[error(transparent)]
    Episode(#[from] EpisodeRefusal),
    /// A run does not allow the step.
    #[error(transparent)]
    Run(#[from] RunRefusal),
    /// A study has no answer, or does not allow the step.
    #[error(transparent)]
    Study(#[from] StudyRefusal),
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

    /// It is no refusal: the same would fail whatever was asked.
    pub fn is_fault(&self) -> bool {
        matches!(self, Self::Database(_) | Self::Corrupt(_))
    }

    /// What a transaction read at one moment was changed by another one meanwhile.
    pub(crate) fn is_conflict(&self) -> bool {
        let Self::Database(error) = self else { return false };
        error.as_database_error().and_then(|error| error.code()).is_some_and(|code| code == "40001")
    }

    /// What a constraint of the database says about what was given; `refusal` knows the constraints by name.
    pub(crate) fn of_constraint(error: sqlx::Error, refusal: impl FnOnce(&str) -> Option<Self>) -> Self {
        let refused = error.as_database_error().and_then(|error| error.constraint()).and_then(refusal);
        refused.unwrap_or(Self::Database(error))
    }
}

impl From<serde_json::Error> for StoreError {
    fn from(error: serde_json::Error) -> Self {
        Self::Corrupt(error.to_string())
    }
}

impl From<spc::wrong_request::WrongRequest> for StoreError {
    fn from(wrong: spc::wrong_request::WrongRequest) -> Self {
        Self::Corrupt(wrong.to_string())
    }
}
