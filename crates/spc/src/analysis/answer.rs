//! Answers, to be written as JSON text.

use std::fmt::{self, Debug, Formatter};
use std::io::{self, Write};

use serde::Serialize;

/// An answer. It is written where it is wanted: as text it can take ten times the memory of its figures.
pub struct Answer(Box<dyn Written + Send>);

trait Written {
    fn write(&self, to: &mut dyn Write) -> io::Result<()>;
}

impl<T: Serialize> Written for T {
    fn write(&self, to: &mut dyn Write) -> io::Result<()> {
        Ok(serde_json::to_writer(to, self)?)
    }
}

impl Answer {
    pub(super) fn of(answer: impl Serialize + Send + 'static) -> Self {
        Self(Box::new(answer))
    }

    /// Writes it as JSON text, in many small pieces.
    ///
    /// # Errors
    /// When nothing can be written there.
    pub fn write(&self, mut to: impl Write) -> io::Result<()> {
        self.0.write(&mut to)
    }

    /// All of it as one text, for an answer that is small.
    #[must_use]
    pub fn text(&self) -> String {
        let mut text = vec![];
        let written = self.write(&mut text);
        debug_assert!(written.is_ok(), "memory takes whatever is written");
        String::from_utf8_lossy(&text).into_owned()
    }
}

impl Debug for Answer {
    fn fmt(&self, f: &mut Formatter) -> fmt::Result {
        f.write_str("Answer")
    }
}
