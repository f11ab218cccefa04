//! CSV: every row that stands in the file, empty lines among them.

use std::borrow::Cow;

use csv_core::{ReadRecordResult, Reader, ReaderBuilder};

use super::cells::{Filling, Grid};

/// Reads a text of less than 4 GiB.
pub(super) fn read(text: &str, delimiter: char) -> Grid {
    let (text, delimiter) = one_byte(text, delimiter);
    match memchr::memchr(b'"', text.as_bytes()) {
        // Cut where its delimiters are; it stays where it is.
        None => Filling::of_cut_text(text.into_owned(), delimiter).done(),
        Some(_) => quoted(&text, delimiter),
    }
}

fn quoted(text: &str, delimiter: u8) -> Grid {
    let bytes = text.as_bytes();
    let mut reader = ReaderBuilder::new().delimiter(delimiter).build();
    let mut grid = Filling::of_texts(bytes.len());
    let mut row = Record::default();
    let mut at = 0;
    while let Some(byte) = bytes.get(at) {
        // The reader passes over empty lines; here they are rows.
        match byte {
            b'\r' | b'\n' => {
                at += line_end(&bytes[at..]);
                grid.ends_row();
            }
            _ => {
                at += row.read(&mut reader, &bytes[at..]);
                // It ends with the first of the two that end the line.
                if bytes[at - 1] == b'\r' && bytes.get(at) == Some(&b'\n') {
                    at += 1;
                }
                // Cut at delimiters and quotes alone, so it is text as before.
                grid.texts(std::str::from_utf8(&row.text[..row.long]).unwrap_or_default(), &row.ends[..row.cells]);
            }
        }
    }
    grid.done()
}

fn line_end(bytes: &[u8]) -> usize {
    if bytes.starts_with(b"\r\n") { 2 } else { 1 }
}

/// The reader parts at one byte: another delimiter is swapped for a byte that stands nowhere in the text.
fn one_byte(text: &str, delimiter: char) -> (Cow<'_, str>, u8) {
    if delimiter.is_ascii() {
        return (text.into(), delimiter as u8);
    }
    let unused = (1u8..0x1f).find(|byte| !matches!(byte, b'\t' | b'\n' | b'\r') && !text.as_bytes().contains(byte));
    // With every control character in it, it is no table; it comes out as one column.
    let unused = unused.unwrap_or(0x1f);
    (text.replace(delimiter, char::from(unused).encode_utf8(&mut [0; 4])).into(), unused)
}

/// A row that is being read.
#[derive(Default)]
struct Record {
    text: Vec<u8>,
    long: usize,
    ends: Vec<usize>,
    cells: usize,
}

impl Record {
    /// Reads one; how many bytes it took.
    fn read(&mut self, reader: &mut Reader, bytes: &[u8]) -> usize {
        (self.long, self.cells) = (0, 0);
        let mut took = 0;
        loop {
            let (result, read, wrote, ended) =
                reader.read_record(&bytes[took..], &mut self.text[self.long..], &mut self.ends[self.cells..]);
            took += read;
            self.long += wrote;
            self.cells += ended;
            match result {
                ReadRecordResult::OutputFull => self.text.resize((self.text.len() * 2).max(1024), 0),
                ReadRecordResult::OutputEndsFull => self.ends.resize((self.ends.len() * 2).max(64), 0),
                // At the end of the text it is asked once more, and then the row ends.
                ReadRecordResult::InputEmpty => {}
                ReadRecordResult::Record | ReadRecordResult::End => return took,
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    fn cells(grid: &Grid) -> Vec<Vec<String>> {
        let row = |row| (0..grid.width()).map(|column| grid.cell(row, column).text().into_owned()).collect();
        (0..grid.height()).map(row).collect()
    }

    proptest! {
        /// Without quotes both ways cut the same cells.
        #[test]
        fn a_text_without_quotes_is_cut_as_the_reader_cuts_it(text in "[a-c ,;é\r\n\t]{0,60}", delimiter in prop::sample::select(vec![b',', b';', b'\t'])) {
            let plain = Filling::of_cut_text(text.clone(), delimiter).done();
            prop_assert_eq!(cells(&plain), cells(&quoted(&text, delimiter)));
        }
    }
}
