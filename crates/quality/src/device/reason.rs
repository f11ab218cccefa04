//! Why something that a device sent is refused.

use serde::{Deserialize, Serialize};

use crate::entry::{EntryRefusal, TimeRefusal};
use crate::reading::ReadingRefusal;

/// Why something of a device is refused, as it is counted and shown.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Reason {
    /// A table of which so many rows differ from what was stored that it may be another list.
    AnotherList,
    /// Units since the event before are no whole number.
    Between,
    /// Its address lies outside the networks that the server may connect to.
    AddressNotAllowed,
    /// A reading is blank.
    Blank,
    /// Cells of a table that cannot be what its recipe takes them for.
    Cells,
    /// A frame with a wrong checksum.
    Checksum,
    /// The connection was lost.
    ConnectionLost,
    /// The counts by kind cannot be read.
    Defects,
    /// The entry id was used for another sample.
    EntryReused,
    /// An event was entered for the same moment.
    EventThere,
    /// A frame that was cut off.
    FrameCutOff,
    /// A frame out of order.
    FrameNumber,
    /// A frame that was sent again.
    FrameSentAgain,
    /// A frame that is too long.
    FrameTooLong,
    /// Its time lies in the future.
    FromTheFuture,
    /// A folder that is not there, or cannot be read or written.
    Folder,
    /// Garbage on the line.
    Garbage,
    /// A header that cannot be read.
    Header,
    /// A level, which is measured in a run.
    InARun,
    /// The number inspected cannot be.
    Inspected,
    /// A table whose list is known by other columns.
    KnownOtherwise,
    /// Late for its stretch of time.
    LateForItsBucket,
    /// A line that is too long.
    LineTooLong,
    /// A message that is too long.
    MessageTooLong,
    /// A message without an end.
    MessageWithoutEnd,
    /// More nonconforming units than were inspected.
    MoreThanInspected,
    /// A record without a header.
    NoHeader,
    /// No id where it is looked for.
    NoId,
    /// Not JSON.
    NoJson,
    /// No time where it is looked for.
    NoTime,
    /// No unit where it is looked for.
    NoUnit,
    /// No value where it is looked for.
    NoValue,
    /// Not a number.
    NotANumber,
    /// A result that is not final.
    NotFinal,
    /// Nothing is measured at its station.
    NothingMeasuredHere,
    /// Every piece is left out.
    NothingRecorded,
    /// Readings and counts are mixed up.
    OtherKind,
    /// Not of its stations.
    OtherStation,
    /// Another unit.
    OtherUnit,
    /// Outside the hard bounds.
    OutsideHardBounds,
    /// None of the parts of its short run.
    Part,
    /// A result that cannot be read.
    ResultUnreadable,
    /// A result without its order.
    ResultWithoutOrder,
    /// A kept message of the broker without an id, heard before.
    Retained,
    /// Rows of a table that cannot be kept as entries.
    Rows,
    /// Sent before, kept once.
    SentBefore,
    /// It stopped in the middle of a message.
    StoppedInTheMiddle,
    /// A table that its recipe is not for, or that is too long.
    Table,
    /// A tag that cannot be kept.
    Tag,
    /// Its time lies before 1970.
    TooEarly,
    /// None, or too many samples in a request.
    TooMany,
    /// More decimals than the unit has.
    TooManyDecimals,
    /// A line begun and not ended.
    UnfinishedLine,
    /// An unknown kind of record.
    UnknownRecord,
    /// A specimen and test that no level is mapped to.
    UnknownTest,
    /// A request that cannot be read.
    Unreadable,
    /// Too many or too few readings.
    WrongCount,
    /// It could not be kept; and whatever an older program called its own reasons.
    #[serde(other)]
    Refused,
}

impl From<&ReadingRefusal> for Reason {
    fn from(refusal: &ReadingRefusal) -> Self {
        match refusal {
            ReadingRefusal::NotANumber { .. } => Self::NotANumber,
            ReadingRefusal::Blank { .. } => Self::Blank,
            ReadingRefusal::OtherUnit { .. } => Self::OtherUnit,
            ReadingRefusal::TooManyDecimals { .. } => Self::TooManyDecimals,
            ReadingRefusal::OutsideHardBounds { .. } => Self::OutsideHardBounds,
            ReadingRefusal::WrongCount { .. } => Self::WrongCount,
            ReadingRefusal::NothingRecorded => Self::NothingRecorded,
            ReadingRefusal::Inspected { .. } => Self::Inspected,
            ReadingRefusal::MoreThanInspected { .. } => Self::MoreThanInspected,
            ReadingRefusal::Defects => Self::Defects,
            ReadingRefusal::Between { .. } => Self::Between,
            ReadingRefusal::Part { .. } => Self::Part,
            ReadingRefusal::Tag { .. } => Self::Tag,
            ReadingRefusal::OtherKind => Self::OtherKind,
        }
    }
}

impl From<&EntryRefusal> for Reason {
    fn from(refusal: &EntryRefusal) -> Self {
        match refusal {
            EntryRefusal::Readings(refusals) => refusals.first().map_or(Self::Refused, Self::from),
            // Nobody asks a device.
            EntryRefusal::Unusual(_) => Self::Refused,
        }
    }
}

impl From<&TimeRefusal> for Reason {
    fn from(refusal: &TimeRefusal) -> Self {
        match refusal {
            TimeRefusal::Future { .. } => Self::FromTheFuture,
            TimeRefusal::TooEarly { .. } => Self::TooEarly,
            // Nobody asks a device.
            TimeRefusal::LongAgo { .. } => Self::Refused,
        }
    }
}

/// A device that has said nothing for this many minutes is silent.
pub const SILENT_AFTER_MINUTES: i64 = 5;
