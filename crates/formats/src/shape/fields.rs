//! Fields of JSON objects, taken one by one: whatever is left over is a field that nobody knows.

use serde_json::{Map, Value};

use super::wrong::WrongRecipe;

/// An object with its path.
pub(super) struct Fields {
    path: String,
    fields: Map<String, Value>,
}

/// A field with its path; null counts as left out.
pub(super) struct Field {
    pub path: String,
    pub value: Option<Value>,
}

impl Fields {
    pub fn of(path: &str, value: Value) -> Result<Self, WrongRecipe> {
        match value {
            Value::Object(fields) => Ok(Self { path: path.into(), fields }),
            other => Err(WrongRecipe::new(if path.is_empty() { "recipe" } else { path }, other, "an object")),
        }
    }

    pub fn path_of(&self, name: &str) -> String {
        if self.path.is_empty() { name.into() } else { format!("{}.{name}", self.path) }
    }

    pub fn take(&mut self, name: &str) -> Field {
        let value = self.fields.remove(name).filter(|value| !value.is_null());
        Field { path: self.path_of(name), value }
    }

    /// Every field that is left, as it is named: for objects whose names are free.
    pub fn rest(self) -> Vec<(String, Field)> {
        let path = self.path;
        let named = self.fields.into_iter().map(|(name, value)| {
            let path = format!("{path}.{name}");
            (name, Field { path, value: Some(value).filter(|value| !value.is_null()) })
        });
        named.filter(|(_, field)| field.value.is_some()).collect()
    }

    /// Nothing is left.
    pub fn done(self) -> Result<(), WrongRecipe> {
        match self.fields.into_iter().find(|(_, value)| !value.is_null()) {
            Some((name, value)) => {
                let path = if self.path.is_empty() { name } else { format!("{}.{name}", self.path) };
                Err(WrongRecipe::new(path, value, "no such field"))
            }
            None => Ok(()),
        }
    }
}

impl Field {
    /// It must be there.
    pub fn needed(self, allowed: &str) -> Result<(String, Value), WrongRecipe> {
        match self.value {
            Some(value) => Ok((self.path, value)),
            None => Err(WrongRecipe::new(self.path, "nothing", allowed)),
        }
    }

    pub fn text(self) -> Result<Option<String>, WrongRecipe> {
        match self.value {
            None => Ok(None),
            Some(Value::String(text)) => Ok(Some(text)),
            Some(other) => Err(WrongRecipe::new(self.path, other, "a text")),
        }
    }

    pub fn needed_text(self, allowed: &str) -> Result<String, WrongRecipe> {
        let path = self.path.clone();
        self.text()?.ok_or_else(|| WrongRecipe::new(path, "nothing", allowed))
    }

    /// A whole number within bounds.
    pub fn whole(self, least: u64, most: u64) -> Result<Option<u64>, WrongRecipe> {
        let Some(value) = self.value else { return Ok(None) };
        match value.as_u64().filter(|n| (least..=most).contains(n)) {
            Some(n) => Ok(Some(n)),
            None => Err(WrongRecipe::new(self.path, value, format!("a whole number from {least} to {most}"))),
        }
    }

    /// One of some words; the first is meant where none is given.
    pub fn word<T: Copy>(self, words: &[(&str, T)]) -> Result<T, WrongRecipe> {
        let allowed = || words.iter().map(|(word, _)| *word).collect::<Vec<_>>().join(", ");
        let path = self.path.clone();
        let given = self.text()?;
        let known =
            given.as_deref().map_or_else(|| words.first(), |given| words.iter().find(|(word, _)| *word == given));
        known.map(|(_, meant)| *meant).ok_or_else(|| WrongRecipe::new(path, given.unwrap_or_default(), allowed()))
    }

    /// Texts, one at least, each with its path.
    pub fn texts(self) -> Result<Option<Vec<(String, String)>>, WrongRecipe> {
        let Some(value) = self.value else { return Ok(None) };
        let Value::Array(all) = value else { return Err(WrongRecipe::new(self.path, value, "a list of texts")) };
        if all.is_empty() {
            return Err(WrongRecipe::new(self.path, "an empty list", "a list of texts"));
        }
        let each = all.into_iter().enumerate().map(|(i, one)| match one {
            Value::String(text) => Ok((format!("{}[{i}]", self.path), text)),
            other => Err(WrongRecipe::new(format!("{}[{i}]", self.path), other, "a text")),
        });
        each.collect::<Result<_, _>>().map(Some)
    }

    pub fn object(self) -> Result<Option<Fields>, WrongRecipe> {
        self.value.map(|value| Fields::of(&self.path, value)).transpose()
    }
}
