//! Names of columns.

use std::collections::HashMap;

use super::super::recipe::Named;
use super::super::wrong::WrongRecipe;
use super::cells::Grid;

/// Names of the columns of a table.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Header {
    /// As they stand in the sheet, trimmed; nothing where nothing stands.
    texts: Vec<String>,
    /// Of equal ones the second with `#2`, the third with `#3`.
    names: Vec<String>,
}

impl Header {
    /// Of what stands above the columns.
    pub fn new(texts: Vec<String>) -> Self {
        let texts: Vec<String> = texts.iter().map(|text| super::super::cell::trim(text).to_owned()).collect();
        let mut seen: HashMap<&str, usize> = HashMap::new();
        let named = texts.iter().map(|text| {
            let times = seen.entry(text).and_modify(|times| *times += 1).or_insert(1);
            if *times > 1 && !text.is_empty() { format!("{text}#{times}") } else { text.clone() }
        });
        let names = named.collect();
        Self { texts, names }
    }

    /// Of up to two rows of a grid. Above a filled cell an empty one takes the nearest filled one to its left.
    pub(super) fn of(grid: &Grid, skip: usize, rows: usize) -> Self {
        let text = |row: usize, column: usize| {
            if row < grid.height() { grid.cell(row, column).text().into_owned() } else { String::new() }
        };
        let mut above = String::new();
        let joined = (0..grid.width()).map(|column| match rows {
            0 => String::new(),
            1 => text(skip, column),
            _ => {
                let (own, below) = (text(skip, column), text(skip + 1, column));
                if !own.is_empty() {
                    above = own;
                    if below.is_empty() { above.clone() } else { format!("{above} {below}") }
                } else if below.is_empty() {
                    String::new()
                } else {
                    super::super::cell::trim(&format!("{above} {below}")).to_owned()
                }
            }
        });
        Self::new(joined.collect())
    }

    /// How many columns there are.
    pub fn width(&self) -> usize {
        self.texts.len()
    }

    /// What stands above a column.
    pub fn text(&self, column: usize) -> &str {
        &self.texts[column]
    }

    /// What a column is called: by its number where nothing stands above it.
    pub fn name(&self, column: usize) -> String {
        if self.names[column].is_empty() { format!("#{}", column + 1) } else { self.names[column].clone() }
    }

    /// The column that is named.
    ///
    /// # Errors
    /// When there is none.
    pub fn find(&self, named: &Named) -> Result<usize, WrongRecipe> {
        let number = named.name.strip_prefix('#').filter(|digits| digits.bytes().all(|byte| byte.is_ascii_digit()));
        let place = match number.and_then(|digits| digits.parse::<usize>().ok()) {
            Some(number) => number.checked_sub(1).filter(|place| *place < self.width()),
            None => {
                let name = super::super::cell::trim(&named.name);
                self.names.iter().position(|known| !known.is_empty() && known == name)
            }
        };
        place.ok_or_else(|| WrongRecipe::new(&named.path, &named.name, self.all()))
    }

    /// Names of all columns, in short.
    fn all(&self) -> String {
        const NAMED: usize = 12;
        let names: Vec<String> = (0..self.width().min(NAMED)).map(|column| self.name(column)).collect();
        match self.width() {
            0 => "nothing: the table has no columns".into(),
            more if more > NAMED => format!("one of {} and {} more", names.join(", "), more - NAMED),
            _ => format!("one of {}", names.join(", ")),
        }
    }
}
