//! What a packed file becomes when it is unpacked, before anything is made of it: a small file can hold a large one.

use std::io::{BufReader, Cursor, Read};

use quick_xml::Reader;
use quick_xml::events::{BytesStart, Event};
use zip::ZipArchive;

/// Bytes of all parts together, unpacked.
const UNPACKED_AT_MOST: u64 = 1 << 30;

/// Cells of a sheet of which one is written and many are meant.
const REPEATED_AT_MOST: u64 = 16_000_000;

/// Blanks in a row, written as one, that count as a cell.
const BLANKS_OF_A_CELL: u64 = 4;

/// Why a file is not unpacked.
pub(super) enum Refused {
    /// It is no archive, or is broken.
    NoArchive(String),
    /// It becomes larger than this.
    TooLarge(&'static str),
}

/// The file unpacks to what can be held.
pub(super) fn unpacks(bytes: &[u8], open_document: bool) -> Result<(), Refused> {
    let broken = |error: &dyn std::fmt::Display| Refused::NoArchive(error.to_string());
    let mut archive = ZipArchive::new(Cursor::new(bytes)).map_err(|error| broken(&error))?;
    let mut left = UNPACKED_AT_MOST;
    for part in 0..archive.len() {
        let part = archive.by_index(part).map_err(|error| broken(&error))?;
        let content = open_document && part.name().is_ok_and(|name| name == "content.xml");
        // One byte more than there may be tells that there are more.
        let mut part = part.take(left + 1);
        if content {
            repeats(&mut part)?;
        }
        std::io::copy(&mut part, &mut std::io::sink()).map_err(|error| broken(&error))?;
        left = part.limit().checked_sub(1).ok_or(Refused::TooLarge("1 GiB unpacked"))?;
    }
    Ok(())
}

/// Cells that are written once and meant many times are few enough.
fn repeats(content: impl Read) -> Result<(), Refused> {
    let mut reader = Reader::from_reader(BufReader::new(content));
    let mut buffer = Vec::new();
    let (mut all, mut in_row, mut row_repeats) = (0u64, 0u64, 1u64);
    loop {
        buffer.clear();
        match reader.read_event_into(&mut buffer) {
            Ok(Event::Start(tag) | Event::Empty(tag)) => match tag.name().as_ref() {
                "table:table-row" => (in_row, row_repeats) = (0, many(&tag, "table:number-rows-repeated")),
                "table:table-cell" | "table:covered-table-cell" => {
                    let filled =
                        tag.attributes().flatten().any(|attribute| attribute.key.as_ref().starts_with("office:"));
                    in_row += if filled { many(&tag, "table:number-columns-repeated") } else { 1 };
                }
                "text:s" => in_row += many(&tag, "text:c") / BLANKS_OF_A_CELL,
                _ => {}
            },
            Ok(Event::End(tag)) if tag.name().as_ref() == "table:table-row" => {
                all = all.saturating_add(in_row.saturating_mul(row_repeats));
                in_row = 0;
            }
            Ok(Event::Eof) => return Ok(()),
            Err(error) => return Err(Refused::NoArchive(error.to_string())),
            Ok(_) => {}
        }
        if all.saturating_add(in_row) > REPEATED_AT_MOST {
            return Err(Refused::TooLarge("16,000,000 cells"));
        }
    }
}

fn many(tag: &BytesStart<'_>, name: &str) -> u64 {
    let mut all = tag.attributes().flatten();
    all.find(|attribute| attribute.key.as_ref() == name).and_then(|it| it.value.parse().ok()).unwrap_or(1)
}
