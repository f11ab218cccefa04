//! Every failure that the server answers with: its code, its HTTP status, and facts to act on.
//!
//! This is the one list. The description of the interface is made from it, and with it the browser's types, where
//! a sentence stands for each.

use axum::http::StatusCode;
use chrono::{DateTime, Utc};
use quality::entry::{RefusedResult, Unusual, UnusualResult};
use quality::episode::NotTheirs;
use quality::field::WrongField;
use quality::import::RefusedRow;
use quality::object::ObjectKind;
use quality::reading::ReadingRefusal;
use quality::role::Role;
use quality::signal::SignalState;
use quality::study::StudyRefusal;
use serde::Serialize;
use spc::wrong_request::WrongRequest;
use store::peers::RefusedStatistic;
use thiserror::Error;
use utoipa::ToSchema;

/// What went wrong, with its facts. The number is the HTTP status; from 500 on it is our fault.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema, Error)]
#[serde(tag = "code", content = "params", rename_all = "snake_case")]
pub enum Failure {
    /// 401: no session, or it has ended.
    #[error("no session, or it has ended")]
    NotSignedIn {},
    /// 401: name or password is wrong.
    #[error("name or password is wrong")]
    WrongSignIn {},
    /// 401: the PIN does not fit.
    #[error("the PIN does not fit")]
    WrongPin {
        /// Tries before only the password helps.
        tries_left: i32,
    },
    /// 401: too many PINs did not fit; only the password helps.
    #[error("too many PINs did not fit")]
    PinBlocked {},
    /// 401: nobody who is known at this terminal has that.
    #[error("nobody known at this terminal")]
    UnknownHere {},
    /// 401: no token, an unknown or a revoked one.
    #[error("no token, an unknown or a revoked one")]
    UnknownToken {},
    /// 429: too many tries to sign in.
    #[error("too many tries")]
    TooManyTries {
        /// Seconds until the next try is heard.
        retry_after_seconds: i64,
    },
    /// 429: too many analyses wait.
    #[error("too many analyses wait")]
    Busy {},
    /// 403: the role does not carry the permission.
    #[error("the role does not carry this permission")]
    NotAllowed {
        /// The role of who asks.
        role: Role,
    },
    /// 403: the password was given, and one of their own has to be chosen first.
    #[error("a password of one's own has to be chosen first")]
    PasswordToChoose {},
    /// 403: who is bound to stations of their own enters there alone.
    #[error("entered at a station that is not theirs")]
    NotYourStation {},
    /// 409: nobody would be left to look after people.
    #[error("nobody would be left to look after people")]
    LastAdministrator {},
    /// 403: requests from other sites are refused.
    #[error("requests from other sites are refused")]
    CrossSite {},
    /// 400: the request cannot be read.
    #[error("the request cannot be read: {detail}")]
    Malformed {
        /// What the reader says of it, for who writes programs.
        detail: String,
    },
    /// 422: the body is JSON, but of another form than the request has.
    #[error("the body has another form: {detail}")]
    WrongForm {
        /// What the reader says of it, for who writes programs.
        detail: String,
    },
    /// 413: the request is too large.
    #[error("the request is too large")]
    TooLarge {},
    /// 415: the body is not JSON by its content type.
    #[error("not application/json")]
    NotJson {},
    /// 422: a text holds the zero character, which cannot be kept.
    #[error("a text holds the zero character")]
    ZeroCharacter {},
    /// 422: a field cannot be as it is given.
    #[error(transparent)]
    FieldRefused(WrongField),
    /// 422: fields of a set-up cannot be as they are given.
    #[error("{} fields are refused", wrong.len())]
    SetUpRefused {
        /// All of them.
        wrong: Vec<WrongField>,
    },
    /// 422: a study has no answer, or does not allow the step.
    #[error(transparent)]
    StudyRefused(StudyRefusal),
    /// 422: a file with statistics of a peer group cannot be read.
    #[error("line {row}: {detail}")]
    StatisticsUnreadable {
        /// The line, from 1.
        row: usize,
        /// What the reader says of it.
        detail: String,
    },
    /// 422: statistics of a peer group do not fit; none of the file was taken in.
    #[error("{} statistics are refused", refused.len())]
    StatisticsRefused {
        /// All of them.
        refused: Vec<RefusedStatistic>,
    },
    /// 422: a recipe does not fit its file, or cannot be.
    #[error("{path} is {given}")]
    RecipeRefused {
        /// The field of the recipe by its path, such as `shape.values[1]`.
        path: String,
        /// As it is given.
        given: String,
        /// What it may be.
        allowed: String,
    },
    /// 422: cells of a table are refused, and all or nothing was asked for.
    #[error("{cells} cells are refused")]
    CellsRefused {
        /// How many.
        cells: usize,
    },
    /// 422: rows of a table cannot be kept, and all or nothing was asked for.
    #[error("{} rows are refused", rows.len())]
    RowsRefused {
        /// The first of them, at most 200.
        rows: Vec<RefusedRow>,
    },
    /// 409: so many rows that were stored before differ that it may be another list.
    #[error("{changed} rows of a known list differ")]
    AnotherList {
        /// Rows that are as they were.
        same: usize,
        /// Rows that are not.
        changed: usize,
    },
    /// 409: rows of a list are known by other columns since it was first brought in.
    #[error("the rows of the list are known otherwise")]
    KnownOtherwise {
        /// The columns; none where they are known by their numbers.
        key: Vec<String>,
    },
    /// 422: an analysis request is wrong.
    #[error(transparent)]
    RequestRefused(Box<WrongRequest>),
    /// 422: readings cannot be kept.
    #[error("{} readings are refused", refusals.len())]
    ReadingsRefused {
        /// Every refusal.
        refusals: Vec<ReadingRefusal>,
    },
    /// 422: readings are outside the soft bounds, to be typed again or confirmed.
    #[error("{} readings are outside the soft bounds", unusual.len())]
    ConfirmReadings {
        /// All of them.
        unusual: Vec<Unusual>,
    },
    /// 422: results of a run cannot be kept.
    #[error("{} results are refused", refused.len())]
    ResultsRefused {
        /// All of them.
        refused: Vec<RefusedResult>,
    },
    /// 422: results of a run are outside the soft bounds, to be typed again or confirmed.
    #[error("{} results are outside the soft bounds", unusual.len())]
    ConfirmResults {
        /// All of them.
        unusual: Vec<UnusualResult>,
    },
    /// 422: the time lies long ago, to be corrected or confirmed.
    #[error("{taken_at} lies long ago")]
    ConfirmTime {
        /// As it was given.
        taken_at: DateTime<Utc>,
        /// From how many days on it is asked about.
        asked_after_days: i64,
    },
    /// 422: the time lies in the future.
    #[error("{taken_at} lies in the future")]
    FromTheFuture {
        /// As it was given.
        taken_at: DateTime<Utc>,
        /// The server's.
        now: DateTime<Utc>,
    },
    /// 422: the time lies before 1970.
    #[error("{taken_at} lies before 1970")]
    TooEarly {
        /// As it was given.
        taken_at: DateTime<Utc>,
    },
    /// 404: there is no such object.
    #[error("there is no such {object:?}")]
    Missing {
        /// What is missing.
        object: ObjectKind,
    },
    /// 409: somebody acted first.
    #[error("the {object:?} has changed since it was shown")]
    Changed {
        /// What has changed since it was shown.
        object: ObjectKind,
    },
    /// 409: the entry id was used before, for something else.
    #[error("the entry id was used before for something else")]
    EntryReused {},
    /// 409: a rare event was entered for the same moment.
    #[error("an event was entered for the same moment")]
    EventThere {},
    /// 409: there is another of that name or badge number.
    #[error("the {field} is taken")]
    Taken {
        /// `name` or `badge`.
        field: &'static str,
    },
    /// 409: what old samples mean cannot change.
    #[error("what old samples mean cannot change")]
    HasSamples {},
    /// 403: only who entered a sample, or a supervisor, may change it.
    #[error("somebody else entered the sample")]
    NotYourSample {},
    /// 403: somebody else wrote the note.
    #[error("only who wrote a note changes it")]
    NotYourNote {},
    /// 403: after the shift only a supervisor may change a sample.
    #[error("the shift of the sample is over")]
    ShiftIsOver {},
    /// 409: fewer points, or points that differ less, than limits need.
    #[error("{found} points that differ, where {needed} are needed")]
    TooFewPoints {
        /// How many points limits need.
        needed: usize,
        /// How many there are.
        found: usize,
    },
    /// 409: the limits belong to an earlier phase.
    #[error("the limits are not on trial")]
    NotOnTrial {},
    /// 409: there are no limits in force to go on with.
    #[error("the limits are not in force")]
    NotInForce {},
    /// 409: the last point of a phase cannot be set aside.
    #[error("no point would be left")]
    NothingLeft {},
    /// 409: the point is set aside, or marked, already.
    #[error("that is said of the point already")]
    SaidAlready {},
    /// 409: the point is not set aside, or not marked.
    #[error("that is not said of the point")]
    NotSaid {},
    /// 409: nothing was measured there.
    #[error("nothing was measured there")]
    NothingMeasured {},
    /// 409: a phase begins there already.
    #[error("a phase begins there already")]
    PhaseThere {},
    /// 409: the first phase neither moves nor merges.
    #[error("it is the first phase")]
    FirstPhase {},
    /// 409: a phase would be without any point.
    #[error("a phase would have no points")]
    EmptyPhase {},
    /// 422: what limits would rest on speaks against them; that asks for a reason.
    #[error("the ground is unfit, and no reason is given")]
    ReasonNeeded {},
    /// 409: points are being judged again; the next change waits for it.
    #[error("points are being judged again")]
    JudgingAgain {},
    /// 409: nothing of the episode holds any more, so nobody can be asked back.
    #[error("nothing of the episode holds any more")]
    FindingGone {},
    /// 409: the episode does not take this step from where it stands.
    #[error("an episode that is {state:?} cannot take this step")]
    EpisodeStands {
        /// Where it stands.
        state: SignalState,
    },
    /// 403: who has a part in an episode may not review it.
    #[error("who has a part in an episode may not review it")]
    OwnPart {
        /// Which.
        part: NotTheirs,
    },
    /// 409: the run is rejected by the rules, and not overridden.
    #[error("the run is rejected")]
    RunRejected {},
    /// 409: levels of the run are missing, and nobody has overridden that.
    #[error("the run is incomplete")]
    RunIncomplete {},
    /// 403: who ran a run that was not accepted neither overrides nor releases it.
    #[error("the run is one's own")]
    OwnRun {},
    /// 409: the run was released before.
    #[error("the run is released")]
    RunReleased {},
    /// 409: another run took its place.
    #[error("the run was repeated")]
    RunRepeated {},
    /// 409: there is no rejection to override.
    #[error("there is no rejection to override")]
    RunNotRejected {},
    /// 409: the run is accepted, and somebody still has to release it.
    #[error("the run is not settled")]
    RunNotSettled {},
    /// 409: the level is measured in runs, with its other levels.
    #[error("a level is measured in a run")]
    InARun {},
    /// 409: the results do not fit the levels of the bench.
    #[error("the results do not fit the station's levels")]
    RunResults {},
    /// 503: the database is away; the same may succeed in a moment.
    #[error("the database is away")]
    DatabaseAway {},
    /// 500: the server failed.
    #[error("the server failed")]
    Internal {},
}

impl Failure {
    /// Its HTTP status.
    pub fn status(&self) -> StatusCode {
        match self {
            Self::Malformed { .. } => StatusCode::BAD_REQUEST,
            Self::NotSignedIn {}
            | Self::WrongSignIn {}
            | Self::WrongPin { .. }
            | Self::PinBlocked {}
            | Self::UnknownHere {}
            | Self::UnknownToken {} => StatusCode::UNAUTHORIZED,
            Self::NotAllowed { .. }
            | Self::CrossSite {}
            | Self::PasswordToChoose {}
            | Self::NotYourStation {}
            | Self::NotYourSample {}
            | Self::NotYourNote {}
            | Self::ShiftIsOver {}
            | Self::OwnPart { .. }
            | Self::OwnRun {} => StatusCode::FORBIDDEN,
            Self::Missing { .. } => StatusCode::NOT_FOUND,
            Self::Changed { .. }
            | Self::EntryReused {}
            | Self::EventThere {}
            | Self::AnotherList { .. }
            | Self::KnownOtherwise { .. }
            | Self::Taken { .. }
            | Self::LastAdministrator {}
            | Self::HasSamples {}
            | Self::TooFewPoints { .. }
            | Self::NotOnTrial {}
            | Self::NotInForce {}
            | Self::NothingLeft {}
            | Self::SaidAlready {}
            | Self::NotSaid {}
            | Self::NothingMeasured {}
            | Self::PhaseThere {}
            | Self::FirstPhase {}
            | Self::EmptyPhase {}
            | Self::JudgingAgain {}
            | Self::FindingGone {}
            | Self::EpisodeStands { .. }
            | Self::RunRejected {}
            | Self::RunIncomplete {}
            | Self::RunReleased {}
            | Self::RunRepeated {}
            | Self::RunNotRejected {}
            | Self::RunNotSettled {}
            | Self::InARun {}
            | Self::RunResults {} => StatusCode::CONFLICT,
            Self::TooLarge {} => StatusCode::PAYLOAD_TOO_LARGE,
            Self::NotJson {} => StatusCode::UNSUPPORTED_MEDIA_TYPE,
            Self::WrongForm { .. }
            | Self::ZeroCharacter {}
            | Self::FieldRefused(_)
            | Self::ReasonNeeded {}
            | Self::SetUpRefused { .. }
            | Self::RequestRefused(_)
            | Self::RecipeRefused { .. }
            | Self::CellsRefused { .. }
            | Self::RowsRefused { .. }
            | Self::StudyRefused(_)
            | Self::StatisticsUnreadable { .. }
            | Self::StatisticsRefused { .. }
            | Self::ReadingsRefused { .. }
            | Self::ConfirmReadings { .. }
            | Self::ResultsRefused { .. }
            | Self::ConfirmResults { .. }
            | Self::ConfirmTime { .. }
            | Self::FromTheFuture { .. }
            | Self::TooEarly { .. } => StatusCode::UNPROCESSABLE_ENTITY,
            Self::TooManyTries { .. } | Self::Busy {} => StatusCode::TOO_MANY_REQUESTS,
            Self::Internal {} => StatusCode::INTERNAL_SERVER_ERROR,
            Self::DatabaseAway {} => StatusCode::SERVICE_UNAVAILABLE,
        }
    }
}
