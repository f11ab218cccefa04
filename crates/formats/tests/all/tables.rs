//! Tables as files, read back by other readers.

use std::io::Cursor;

use calamine::{Data, Reader, Xlsx};
use chrono::{DateTime, Utc};
use formats::table::{Cell, Table};
use formats::{csv, sheet};
use rstest::rstest;

fn at() -> DateTime<Utc> {
    "2026-11-27T13:45:07.250Z".parse().unwrap()
}

fn table() -> Table {
    let text = |text: &str| Cell::from(text);
    Table {
        title: "Episodes & answers".into(),
        about: vec![("Asked by".into(), "Sanna Samplethorpe".into()), ("Seal".into(), "9f3a".into())],
        columns: ["characteristic", "remark", "sample", "at"].map(str::to_owned).to_vec(),
        rows: vec![
            vec![text("Wall thickness"), text("Die, worn \"again\"\r\nand changed"), 1329.into(), at().into()],
            vec![text("Žárovzdornost — 耐火"), text("=1+1"), Cell::from(0.1 + 0.2), Cell::Empty],
        ],
    }
}

#[test]
fn csv_is_read_back_as_it_was_written() {
    let bytes = csv::write(&table()).unwrap();
    let mut reader = ::csv::Reader::from_reader(bytes.as_slice());
    assert_eq!(reader.headers().unwrap().iter().collect::<Vec<_>>(), ["characteristic", "remark", "sample", "at"]);
    let rows: Vec<Vec<String>> = reader.records().map(|row| row.unwrap().iter().map(str::to_owned).collect()).collect();
    assert_eq!(rows[0][1], "Die, worn \"again\"\r\nand changed");
    assert_eq!((rows[0][2].as_str(), rows[0][3].as_str()), ("1329", "2026-11-27T13:45:07.250000Z"));
    assert_eq!(rows[1][2].parse::<f64>().unwrap(), 0.1 + 0.2);
    assert!(bytes.ends_with(b"\r\n"));
}

#[rstest]
#[case("=HYPERLINK(\"http://elsewhere\")", "'=HYPERLINK(\"http://elsewhere\")")]
#[case("+44 20", "'+44 20")]
#[case("@home", "'@home")]
#[case("\tcmd", "'\tcmd")]
#[case("-2+3", "'-2+3")]
#[case("two - three", "two - three")]
#[case("a = b", "a = b")]
fn csv_holds_nothing_that_a_spreadsheet_computes(#[case] given: &str, #[case] expected: &str) {
    let table = Table { columns: vec!["remark".into()], rows: vec![vec![given.into()]], ..Table::default() };
    let bytes = csv::write(&table).unwrap();
    let mut reader = ::csv::Reader::from_reader(bytes.as_slice());
    assert_eq!(&reader.records().next().unwrap().unwrap()[0], expected);
}

#[test]
fn a_sheet_is_read_back_with_its_kinds() {
    let mut book: Xlsx<_> = Xlsx::new(Cursor::new(sheet::write(&table()).unwrap())).unwrap();
    assert_eq!(book.sheet_names(), ["Report", "About"]);
    let report = book.worksheet_range("Report").unwrap();
    let cell = |row, column| report.get_value((row, column)).cloned().unwrap_or(Data::Empty);
    assert_eq!(cell(0, 3), Data::String("at".into()));
    assert_eq!(cell(1, 2), Data::Float(1329.0));
    let Data::DateTime(moment) = cell(1, 3) else { panic!("{:?}", cell(1, 3)) };
    let off = moment.as_datetime().unwrap() - at().naive_utc();
    assert!(off.num_milliseconds().abs() <= 1, "{off}");
    // A text, and nothing to compute.
    assert_eq!(cell(2, 1), Data::String("=1+1".into()));
    assert_eq!((cell(2, 0), cell(2, 3)), (Data::String("Žárovzdornost — 耐火".into()), Data::Empty));
    let about = book.worksheet_range("About").unwrap();
    assert_eq!(about.get_value((0, 0)), Some(&Data::String("Episodes & answers".into())));
    assert_eq!(about.get_value((2, 1)), Some(&Data::String("9f3a".into())));
}

#[test]
fn what_is_too_long_for_a_cell_is_cut_with_a_mark() {
    let long = "ž".repeat(40_000);
    let table = Table { columns: vec!["remark".into()], rows: vec![vec![long.into()]], ..Table::default() };
    let mut book: Xlsx<_> = Xlsx::new(Cursor::new(sheet::write(&table).unwrap())).unwrap();
    let report = book.worksheet_range("Report").unwrap();
    let Some(Data::String(kept)) = report.get_value((1, 0)) else { panic!("no text") };
    assert!(kept.chars().count() <= 32_767 && kept.ends_with('…'));
}

#[test]
fn an_empty_table_has_its_columns() {
    let empty = Table { rows: vec![], ..table() };
    assert_eq!(csv::write(&empty).unwrap(), b"characteristic,remark,sample,at\r\n");
    assert!(Xlsx::new(Cursor::new(sheet::write(&empty).unwrap())).is_ok());
}
