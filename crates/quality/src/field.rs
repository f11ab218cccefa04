//! Fields that a person fills in: what they may hold, and what is said about one that holds something else.

use serde::Serialize;
use thiserror::Error;
use url::Url;

/// Longest name, unit, tag or word of a catalogue, in characters.
pub const NAME_AT_MOST: usize = 80;

/// Longest text of an answer, a review, a note or a reason, in characters.
pub const TEXT_AT_MOST: usize = 2000;

/// Longest address of another program, in characters.
const ADDRESS_AT_MOST: usize = 2000;

/// Steps of a reaction plan, asked tags, labels or components at most.
pub const LIST_AT_MOST: usize = 20;

/// A field that cannot be as it is given.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Error)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[error("{field}: {allowed:?} is allowed")]
pub struct WrongField {
    /// The field, as the request names it.
    pub field: &'static str,
    /// What it may hold.
    pub allowed: Allowed,
}

/// What a field may hold.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "code", rename_all = "snake_case")]
pub enum Allowed {
    /// A text that is not blank.
    Text {
        /// Characters at most.
        most: usize,
    },
    /// A name: not blank, no control characters.
    Name {
        /// Characters at most.
        most: usize,
    },
    /// Names, each once.
    Names {
        /// How many at most.
        most: usize,
    },
    /// Texts.
    Texts {
        /// How many at most.
        most: usize,
        /// Characters of each at most.
        characters: usize,
    },
    /// A whole number.
    Whole {
        /// At least this.
        least: u32,
        /// At most this.
        most: u32,
    },
    /// People who are there and have a bell.
    PeopleWithABell,
    /// So many entries, each once.
    Entries {
        /// At least this many.
        least: usize,
        /// At most this many.
        most: usize,
    },
    /// A number up to a size, of either sign.
    Number {
        /// At most this far from 0.
        size: f64,
    },
    /// A number above 0, up to a size.
    Positive {
        /// At most this.
        most: f64,
    },
    /// A first sample that is not after the last.
    FirstBeforeLast,
    /// A figure that the chart is drawn from, within its bounds.
    FigureOfTheChart,
    /// A lower bound below the upper one, both numbers.
    LowerBelowUpper,
    /// LSL below target below USL, each of them optional.
    LslBelowTargetBelowUsl,
    /// A chart for this kind of data.
    ChartOfTheKind,
    /// Individuals for single readings, and for nothing else.
    IndividualsForSingleReadings,
    /// The conforming share of a chart of shares, of no other.
    ConformingOfShares,
    /// Straight limits of counts, of nothing else.
    StraightForCounts,
    /// Nominals that belong to parts, not to the chart.
    NominalsOfParts,
    /// A chart of shares or rates where the number inspected varies.
    SharesOrRates,
    /// A fixed number of pieces, as always for measured values.
    FixedNumber,
    /// Never due, for rare events and for nothing else.
    NeverForRareEvents,
    /// Hours, for the time between events.
    Hours,
    /// No tag `part`: the list of parts says it.
    NoPart,
    /// Parts with a name of their own, a nominal, and a sigma above 0 or none.
    Parts {
        /// How many at most.
        most: usize,
    },
    /// Scales, one a panel, each from a number to a larger one.
    Scales {
        /// How many at most.
        most: usize,
    },
    /// Thresholds of capability above 0, the lower one not above the other.
    Thresholds {
        /// At most this.
        most: f64,
    },
    /// The parameters of the family, within their bounds.
    ParametersOfTheFamily,
    /// A share above 0 and below one half.
    ShareBelowHalf,
    /// A percentile or constants, not both.
    PercentileOrConstants,
    /// Weights from 0, each of a kind.
    Weights {
        /// How many at most.
        most: usize,
    },
    /// A share from 0 to 1.
    Share,
    /// A confidence from 0.5 to 0.9999.
    Confidence,
    /// A characteristic, where rules are its own.
    CharacteristicOfOwnRules,
    /// An idea of the same tree, above it.
    IdeaOfTheTree {
        /// Ideas under ideas at most.
        deep: usize,
    },
    /// A group of causes on a branch alone.
    GroupOfABranch,
    /// What it shows in a few words, and a path within the site.
    PathWithinTheSite,
    /// An idea that was found true.
    FoundTrue,
    /// A day after today.
    DayToCome,
    /// Minutes, pieces, each lot or each shift.
    Sampling {
        /// Minutes at most, from 1.
        minutes: u32,
        /// Pieces at most, from 1.
        pieces: u32,
    },
    /// Rules whose parameters are within their bounds.
    RulesWithinBounds,
    /// The rules of the version of the named set.
    RulesOfTheSet,
    /// No tag `shift`: the calendar says it.
    NoShift,
    /// Nothing, for counts.
    NothingForCounts,
    /// Nothing, for measured values.
    NothingForMeasuredValues,
    /// A letter of its own for each kind, A to Z without O and U.
    OwnLetters,
    /// One cause, or that nothing was found.
    OneCause,
    /// In words, to be proposed.
    InWordsToPropose,
    /// A group, for what answers can name.
    GroupInUse,
    /// In use, or retired.
    InUseOrRetired,
    /// Another cause, once retired.
    AnotherWhenRetired,
    /// A PNG or JPEG picture, or a PDF document.
    PictureOrPdf {
        /// Bytes at most.
        bytes: usize,
    },
    /// Digits, not all alike and not counted up or down.
    Pin {
        /// Digits at least.
        least: usize,
        /// Digits at most.
        most: usize,
    },
    /// Letters and digits, not all alike and not counted up or down.
    Badge {
        /// Characters at least.
        least: usize,
        /// Characters at most.
        most: usize,
    },
    /// A password that is long enough and not what many people take.
    Password {
        /// Characters at least.
        least: usize,
        /// Characters at most.
        most: usize,
    },
    /// Another password than before.
    NotAsBefore,
    /// A role that a person can play.
    RoleOfAPerson,
    /// For technicians who belong somewhere.
    BoundWhereTheyBelong,
    /// An address for mail.
    Email {
        /// Characters at most.
        most: usize,
    },
    /// An address by `http` or `https`, without a name and a password in it.
    WebAddress {
        /// Characters at most.
        most: usize,
    },
    /// A row a sample, since these have no readings to stand below each other.
    RowASample,
    /// A shape of so many columns.
    Columns {
        /// At most this many.
        most: usize,
    },
    /// A stretch of so many samples.
    Samples {
        /// At most this many.
        most: usize,
    },
    /// What a page said is next, alone.
    NextOfAPage,
    /// The name of a folder: letters, digits, `-`, `_` and `.`, not first a `.`.
    FolderName {
        /// Characters at most.
        most: usize,
    },
    /// `host:port`.
    HostAndPort,
    /// A topic without wildcards.
    TopicWithoutWildcards,
    /// JSON pointers (RFC 6901) such as `/value`.
    JsonPointers,
    /// Every so many values, or the mean of so many seconds.
    Making {
        /// Values at most, from 1.
        every: u32,
        /// Seconds at most, from 1.
        seconds: u32,
    },
    /// The kind of device it was set up as.
    KindAsSetUp,
}

impl WrongField {
    /// What `field` may hold.
    pub const fn new(field: &'static str, allowed: Allowed) -> Self {
        Self { field, allowed }
    }
}

/// Fields with whether they hold, as those that do not.
pub(crate) fn broken(checks: impl IntoIterator<Item = (&'static str, bool, Allowed)>) -> Vec<WrongField> {
    let wrong = checks.into_iter().filter(|(_, holds, _)| !holds);
    wrong.map(|(field, _, allowed)| WrongField { field, allowed }).collect()
}

/// A text trimmed and within bounds.
///
/// # Errors
/// When it is blank or longer than [`TEXT_AT_MOST`] characters.
pub fn text(field: &'static str, given: &str) -> Result<String, WrongField> {
    let given = given.trim();
    if given.is_empty() || given.chars().count() > TEXT_AT_MOST {
        return Err(WrongField { field, allowed: Allowed::Text { most: TEXT_AT_MOST } });
    }
    Ok(given.to_owned())
}

/// As [`text`], where a blank one says nothing.
///
/// # Errors
/// When it is too long.
pub fn optional_text(field: &'static str, given: Option<&str>) -> Result<Option<String>, WrongField> {
    given.filter(|given| !given.trim().is_empty()).map(|given| text(field, given)).transpose()
}

/// A name trimmed and within bounds.
///
/// # Errors
/// When it is blank, longer than [`NAME_AT_MOST`] characters, or holds a control character.
pub fn name(field: &'static str, given: &str) -> Result<String, WrongField> {
    let given = given.trim();
    if is_name(given) { Ok(given.to_owned()) } else { Err(WrongField { field, allowed: NAME }) }
}

/// What a name may be.
pub(crate) const NAME: Allowed = Allowed::Name { most: NAME_AT_MOST };

pub(crate) fn is_name(text: &str) -> bool {
    !text.trim().is_empty() && text.chars().count() <= NAME_AT_MOST && !text.chars().any(char::is_control)
}

/// Whether no two are alike.
pub fn all_unlike<T: PartialEq>(all: &[T]) -> bool {
    all.iter().enumerate().all(|(i, one)| !all[..i].contains(one))
}

/// The address of another program, as it is used.
///
/// # Errors
/// When it is none, is neither `http` nor `https`, holds a name or a password, or is too long.
pub fn web_address(field: &'static str, given: &str) -> Result<String, WrongField> {
    let wrong = WrongField::new(field, Allowed::WebAddress { most: ADDRESS_AT_MOST });
    let url = Url::parse(given.trim()).map_err(|_| wrong)?;
    let plain = url.username().is_empty() && url.password().is_none() && url.fragment().is_none();
    let schemes = ["http", "https"].contains(&url.scheme());
    let fits = schemes && url.has_host() && plain && url.as_str().len() <= ADDRESS_AT_MOST;
    if fits { Ok(url.into()) } else { Err(wrong) }
}
