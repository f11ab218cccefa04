//! JSON: an array of flat objects; their keys, in order of first appearance, are the header.

use std::collections::HashMap;
use std::fmt;

use serde::de::{DeserializeSeed, Error, MapAccess, SeqAccess, Visitor};
use serde_json::value::RawValue;

use super::cells::{COLUMNS_AT_MOST, Filling, Grid, Typed};

/// Keys, and the rows below them.
pub(super) fn read(text: &str) -> Result<(Vec<String>, Grid), serde_json::Error> {
    let mut keys = Keys::default();
    let mut grid = Filling::of_typed();
    let mut from = serde_json::Deserializer::from_str(text);
    serde::Deserializer::deserialize_seq(&mut from, Objects { keys: &mut keys, grid: &mut grid })?;
    from.end()?;
    Ok((keys.names, grid.done()))
}

#[derive(Default)]
struct Keys {
    names: Vec<String>,
    places: HashMap<String, usize>,
}

impl Keys {
    fn place(&mut self, key: &str) -> usize {
        match self.places.get(key) {
            Some(place) => *place,
            None => {
                self.places.insert(key.to_owned(), self.names.len());
                self.names.push(key.to_owned());
                self.names.len() - 1
            }
        }
    }
}

struct Objects<'a> {
    keys: &'a mut Keys,
    grid: &'a mut Filling,
}

impl<'de> Visitor<'de> for Objects<'_> {
    type Value = ();

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("an array of flat objects")
    }

    fn visit_seq<A: SeqAccess<'de>>(self, mut objects: A) -> Result<(), A::Error> {
        let mut row = vec![];
        while objects.next_element_seed(Object { keys: self.keys, grid: self.grid, row: &mut row })?.is_some() {
            self.grid.typed(&row);
        }
        Ok(())
    }
}

struct Object<'a> {
    keys: &'a mut Keys,
    grid: &'a mut Filling,
    row: &'a mut Vec<Typed>,
}

impl<'de> DeserializeSeed<'de> for Object<'_> {
    type Value = ();

    fn deserialize<D: serde::Deserializer<'de>>(self, from: D) -> Result<(), D::Error> {
        from.deserialize_map(self)
    }
}

impl<'de> Visitor<'de> for Object<'_> {
    type Value = ();

    fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str("a flat object")
    }

    fn visit_map<A: MapAccess<'de>>(self, mut fields: A) -> Result<(), A::Error> {
        self.row.clear();
        while let Some(key) = fields.next_key::<std::borrow::Cow<'de, str>>()? {
            let value: &RawValue = fields.next_value()?;
            let place = self.keys.place(&key);
            if place >= COLUMNS_AT_MOST {
                return Err(A::Error::custom(format_args!("at most {COLUMNS_AT_MOST} keys")));
            }
            if self.row.len() <= place {
                self.row.resize(place + 1, Typed::Blank);
            }
            self.row[place] = typed(self.grid, value.get()).map_err(A::Error::custom)?;
        }
        Ok(())
    }
}

fn typed(grid: &mut Filling, value: &str) -> Result<Typed, String> {
    Ok(match value.as_bytes().first() {
        Some(b'n') => Typed::Blank,
        Some(b't') => Typed::Bool(true),
        Some(b'f') => Typed::Bool(false),
        Some(b'"') => grid.text(&serde_json::from_str::<String>(value).map_err(|error| error.to_string())?),
        Some(b'-' | b'0'..=b'9') => match value.parse::<f64>() {
            Ok(number) if number.is_finite() => Typed::Number(number),
            // Too large for a double: it is refused where a reading is asked for.
            _ => grid.text(value),
        },
        _ => return Err("the objects hold lists or objects".into()),
    })
}
