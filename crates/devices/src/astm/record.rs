//! Records: H(eader), P(atient), O(rder), R(esult), L (the end), each ended by CR, with fields parted
//! as the header says. Source: ASTM E1394.

use chrono::{NaiveDate, NaiveDateTime};
use quality::device::Reason;

/// A message as it comes, frame by frame.
#[derive(Debug, Clone, Default)]
pub struct Message {
    text: Vec<u8>,
    /// Start of the record that is not complete yet.
    begun: usize,
    delimiters: Option<Delimiters>,
    specimen: Option<String>,
    found: Vec<Outcome>,
}

#[derive(Debug, Clone, Copy)]
struct Delimiters {
    field: char,
    component: char,
    escape: char,
}

/// A result with the specimen of its order.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct AnalyserResult {
    /// Specimen ID of the order.
    pub specimen: String,
    /// The test, by the analyser's own code.
    pub test: String,
    /// As it stands in the record.
    pub value: String,
    /// Likewise.
    pub unit: String,
    /// When the test was completed, by the site's clock.
    pub completed_at: Option<NaiveDateTime>,
}

/// A result, or why there is none.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Outcome {
    /// A final result.
    Result(AnalyserResult),
    /// A refusal: its reason and what came.
    Refused(Reason, String),
}

/// A message longer than this is no control run.
const MESSAGE_AT_MOST: usize = 1 << 20;

impl Message {
    /// Every byte so far.
    pub fn text(&self) -> &[u8] {
        &self.text
    }

    /// Whether a header came and no end yet.
    pub fn is_open(&self) -> bool {
        self.delimiters.is_some()
    }

    /// Takes the text of a frame; gives everything that the message holds when it ends with it.
    pub fn take(&mut self, text: &[u8]) -> Vec<Outcome> {
        if self.text.len() + text.len() > MESSAGE_AT_MOST {
            *self = Self::default();
            return vec![Outcome::Refused(Reason::MessageTooLong, String::new())];
        }
        self.text.extend_from_slice(text);
        let mut complete = Vec::new();
        while let Some(end) = self.text[self.begun..].iter().position(|byte| *byte == b'\r') {
            let bytes = &self.text[self.begun..self.begun + end];
            // Analysers write ASCII, some UTF-8; in what is neither, as Latin-1, every byte is a character.
            let latin = || bytes.iter().map(|byte| char::from(*byte)).collect();
            let record = str::from_utf8(bytes).map_or_else(|_| latin(), str::to_owned);
            self.begun += end + 1;
            complete.append(&mut self.record(record.trim_start_matches('\n')));
        }
        complete
    }

    fn record(&mut self, record: &str) -> Vec<Outcome> {
        let mut signs = record.chars();
        let (kind, delimiters) = (signs.next().map(|c| c.to_ascii_uppercase()), self.delimiters);
        match (kind, delimiters) {
            (None, _) => {}
            (Some('H'), _) => {
                let (field, _repeat, component, escape) = (signs.next(), signs.next(), signs.next(), signs.next());
                self.delimiters = field.zip(component.zip(escape)).map(|(field, (component, escape))| Delimiters {
                    field,
                    component,
                    escape,
                });
                self.specimen = None;
                if self.delimiters.is_none() {
                    self.found.push(Outcome::Refused(Reason::Header, record.into()));
                }
            }
            (Some(_), None) => return vec![Outcome::Refused(Reason::NoHeader, record.into())],
            (Some('P'), _) => self.specimen = None,
            (Some('O'), Some(by)) => {
                self.specimen = Some(by.text(by.fields(record).get(2).copied().unwrap_or_default()));
            }
            (Some('R'), Some(by)) => {
                let outcome = self.result(by, record);
                self.found.push(outcome);
            }
            (Some('L'), _) => {
                self.delimiters = None;
                return std::mem::take(&mut self.found);
            }
            // Comments, queries and what makers add say nothing about results.
            (Some('C' | 'Q' | 'M' | 'S'), _) => {}
            (Some(_), _) => self.found.push(Outcome::Refused(Reason::UnknownRecord, record.into())),
        }
        vec![]
    }

    fn result(&self, by: Delimiters, record: &str) -> Outcome {
        let fields = by.fields(record);
        let field = |place: usize| fields.get(place).copied().unwrap_or_default();
        let Some(specimen) = self.specimen.clone().filter(|specimen| !specimen.is_empty()) else {
            return Outcome::Refused(Reason::ResultWithoutOrder, record.into());
        };
        // Final, corrected, or an analyser that does not say; preliminary ones come again.
        if !matches!(field(8).trim(), "" | "F" | "C") {
            return Outcome::Refused(Reason::NotFinal, record.into());
        }
        // The maker's own code is the fourth component; some send it alone.
        let test = field(2).rsplit(by.component).find(|part| !part.trim().is_empty()).unwrap_or_default();
        let (test, value) = (by.text(test), by.text(field(3)));
        if test.is_empty() || value.is_empty() {
            return Outcome::Refused(Reason::ResultUnreadable, record.into());
        }
        let completed_at = time(field(12));
        Outcome::Result(AnalyserResult { specimen, test, value, unit: by.text(field(4)), completed_at })
    }
}

impl Delimiters {
    fn fields(self, record: &str) -> Vec<&str> {
        record.split(self.field).collect()
    }

    /// A field with its escapes undone.
    fn text(self, field: &str) -> String {
        let mut text = String::new();
        for (i, part) in field.split(self.escape).enumerate() {
            match (i % 2 == 1, part) {
                (true, "F") => text.push(self.field),
                (true, "S") => text.push(self.component),
                (true, "E") => text.push(self.escape),
                // Other escapes are for printers.
                (true, _) => {}
                (false, part) => text.push_str(part),
            }
        }
        text.trim().to_owned()
    }
}

/// `yyyymmddHHMMSS`, or without the seconds, or the day alone.
fn time(text: &str) -> Option<NaiveDateTime> {
    let text = text.trim();
    let number = |from: usize, to: usize| text.get(from..to).unwrap_or("00").parse().ok();
    let day = NaiveDate::from_ymd_opt(text.get(0..4)?.parse().ok()?, number(4, 6)?, number(6, 8)?)?;
    day.and_hms_opt(number(8, 10)?, number(10, 12)?, number(12, 14)?)
}
