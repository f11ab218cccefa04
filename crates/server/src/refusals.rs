//! What the rules of the job and the store refuse, as the failure that is answered. Each area refuses in its own
//! words; here they meet.

use quality::account::AccountRefusal;
use quality::correction::NotYours;
use quality::entry::{EntryRefusal, LONG_AGO, ResultsRefusal, TimeRefusal};
use quality::episode::EpisodeRefusal;
use quality::field::WrongField;
use quality::limits::LimitsRefusal;
use quality::run::RunRefusal;
use quality::setup::SetUpRefusal;
use quality::version::Changed;
use store::StoreError;

use crate::failure::Failure;

impl From<StoreError> for Failure {
    fn from(error: StoreError) -> Self {
        match error {
            StoreError::Missing(object) => Self::Missing { object },
            StoreError::Changed(changed) => changed.into(),
            StoreError::EntryReused => Self::EntryReused {},
            StoreError::EventThere => Self::EventThere {},
            StoreError::AnotherList { same, changed } => Self::AnotherList { same, changed },
            StoreError::KnownOtherwise { key } => Self::KnownOtherwise { key },
            StoreError::Field(wrong) => wrong.into(),
            StoreError::SetUp(refusal) => refusal.into(),
            StoreError::Sample(refusal) => refusal.into(),
            StoreError::Note(_) => Self::NotYourNote {},
            StoreError::Account(AccountRefusal::LastAdministrator) => Self::LastAdministrator {},
            StoreError::Limits(refusal) => refusal.into(),
            StoreError::Episode(refusal) => refusal.into(),
            StoreError::Run(refusal) => refusal.into(),
            StoreError::Study(because) => Self::StudyRefused(because),
            error if error.is_away() => {
                tracing::error!(%error, "the database is away");
                Self::DatabaseAway {}
            }
            StoreError::Database(_) | StoreError::Corrupt(_) => {
                tracing::error!(%error, "a request failed");
                Self::Internal {}
            }
        }
    }
}

impl From<Changed> for Failure {
    fn from(Changed(object): Changed) -> Self {
        Self::Changed { object }
    }
}

impl From<WrongField> for Failure {
    fn from(wrong: WrongField) -> Self {
        Self::FieldRefused(wrong)
    }
}

impl From<SetUpRefusal> for Failure {
    fn from(refusal: SetUpRefusal) -> Self {
        match refusal {
            SetUpRefusal::Fields(wrong) => Self::SetUpRefused { wrong },
            SetUpRefusal::Field(wrong) => wrong.into(),
            SetUpRefusal::HasSamples => Self::HasSamples {},
            SetUpRefusal::Taken(field) => Self::Taken { field },
        }
    }
}

impl From<NotYours> for Failure {
    fn from(refusal: NotYours) -> Self {
        match refusal {
            NotYours::SomebodyElses => Self::NotYourSample {},
            NotYours::ShiftOver => Self::ShiftIsOver {},
        }
    }
}

impl From<LimitsRefusal> for Failure {
    fn from(refusal: LimitsRefusal) -> Self {
        match refusal {
            LimitsRefusal::TooFewPoints { needed, found } => Self::TooFewPoints { needed, found },
            LimitsRefusal::NotOnTrial => Self::NotOnTrial {},
            LimitsRefusal::NotInForce => Self::NotInForce {},
            LimitsRefusal::NothingLeft => Self::NothingLeft {},
            LimitsRefusal::SaidAlready => Self::SaidAlready {},
            LimitsRefusal::NotSaid => Self::NotSaid {},
            LimitsRefusal::Gap => Self::NothingMeasured {},
            LimitsRefusal::PhaseThere => Self::PhaseThere {},
            LimitsRefusal::FirstPhase => Self::FirstPhase {},
            LimitsRefusal::EmptyPhase => Self::EmptyPhase {},
            LimitsRefusal::ReasonNeeded => Self::ReasonNeeded {},
            LimitsRefusal::Judging => Self::JudgingAgain {},
            LimitsRefusal::Field(wrong) => wrong.into(),
        }
    }
}

impl From<EpisodeRefusal> for Failure {
    fn from(refusal: EpisodeRefusal) -> Self {
        match refusal {
            EpisodeRefusal::Changed(changed) => changed.into(),
            EpisodeRefusal::NotFrom(state) => Self::EpisodeStands { state },
            EpisodeRefusal::NotTheirs(part) => Self::OwnPart { part },
            EpisodeRefusal::Cleared => Self::FindingGone {},
            EpisodeRefusal::Field(wrong) => wrong.into(),
        }
    }
}

impl From<RunRefusal> for Failure {
    fn from(refusal: RunRefusal) -> Self {
        match refusal {
            RunRefusal::Rejected => Self::RunRejected {},
            RunRefusal::Incomplete => Self::RunIncomplete {},
            RunRefusal::OwnRun => Self::OwnRun {},
            RunRefusal::Released => Self::RunReleased {},
            RunRefusal::Repeated => Self::RunRepeated {},
            RunRefusal::NotRejected => Self::RunNotRejected {},
            RunRefusal::NotSettled => Self::RunNotSettled {},
            RunRefusal::InARun => Self::InARun {},
            RunRefusal::Results => Self::RunResults {},
        }
    }
}

impl From<EntryRefusal> for Failure {
    fn from(refusal: EntryRefusal) -> Self {
        match refusal {
            EntryRefusal::Readings(refusals) => Self::ReadingsRefused { refusals },
            EntryRefusal::Unusual(unusual) => Self::ConfirmReadings { unusual },
        }
    }
}

impl From<ResultsRefusal> for Failure {
    fn from(refusal: ResultsRefusal) -> Self {
        match refusal {
            ResultsRefusal::Refused(refused) => Self::ResultsRefused { refused },
            ResultsRefusal::Unusual(unusual) => Self::ConfirmResults { unusual },
        }
    }
}

impl From<TimeRefusal> for Failure {
    fn from(refusal: TimeRefusal) -> Self {
        match refusal {
            TimeRefusal::Future { given, now } => Self::FromTheFuture { taken_at: given, now },
            TimeRefusal::TooEarly { given } => Self::TooEarly { taken_at: given },
            TimeRefusal::LongAgo { given } => {
                Self::ConfirmTime { taken_at: given, asked_after_days: LONG_AGO.num_days() }
            }
        }
    }
}
