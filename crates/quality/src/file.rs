//! Photos and documents that go with an answer. What a file is, its content says, never its name.

use serde::{Deserialize, Serialize};

use crate::field::{Allowed, WrongField};

/// Largest file, in bytes.
pub const FILE_AT_MOST: usize = 10 * 1024 * 1024;

/// Files of one answer, or of one addition to it, at most.
pub const FILES_AT_MOST: usize = 5;

/// What a file is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum FileKind {
    /// A picture.
    Png,
    /// A photo.
    Jpeg,
    /// A document.
    Pdf,
}

impl FileKind {
    /// What `content` is.
    ///
    /// # Errors
    /// When it is none of them, or too large.
    pub fn of(content: &[u8]) -> Result<Self, WrongField> {
        let kind = infer::get(content).map(|found| found.mime_type());
        match kind {
            _ if content.len() > FILE_AT_MOST => None,
            Some("image/png") => Some(Self::Png),
            Some("image/jpeg") => Some(Self::Jpeg),
            Some("application/pdf") => Some(Self::Pdf),
            _ => None,
        }
        .ok_or(WrongField::new("content", Allowed::PictureOrPdf { bytes: FILE_AT_MOST }))
    }

    /// As the network names it.
    pub fn media_type(self) -> &'static str {
        match self {
            Self::Png => "image/png",
            Self::Jpeg => "image/jpeg",
            Self::Pdf => "application/pdf",
        }
    }
}
