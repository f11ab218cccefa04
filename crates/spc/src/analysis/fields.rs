//! The fields of a request, read from its text straight into what a task takes.

use serde::de::value::StringDeserializer;
use serde::de::{DeserializeOwned, DeserializeSeed, Deserializer, IgnoredAny, MapAccess, Visitor};
use serde::{Deserialize, forward_to_deserialize_any};

use crate::wrong_request::{Expected, Need, WrongRequest};

/// What can be asked.
pub(super) const TASKS: [&str; 17] = [
    "chart",
    "constants",
    "capability",
    "fit",
    "histogram",
    "probability_plot",
    "trust",
    "limits_check",
    "dispersion",
    "multirule",
    "peer",
    "run_length",
    "sampling",
    "pareto",
    "change_points",
    "compare",
    "differs",
];

/// The fields of a request but for those that are read apart.
#[derive(Clone, Copy)]
pub(super) struct Fields<'t> {
    text: &'t str,
    apart: &'static [&'static str],
}

/// Which task a request names.
pub(super) fn task(text: &str) -> Result<String, WrongRequest> {
    #[derive(Deserialize)]
    #[serde(expecting = "an object with a field `task`")]
    struct Named {
        task: Option<String>,
    }
    let named: Named = Fields { text, apart: &[] }.beside()?;
    named.task.ok_or_else(|| WrongRequest::missing("task", Expected::one_of(TASKS)))
}

impl<'t> Fields<'t> {
    pub fn of(text: &'t str) -> Self {
        Self { text, apart: &["task"] }
    }

    /// Without fields that [`Fields::beside`] reads; `task` must be among them.
    pub fn without(self, apart: &'static [&'static str]) -> Self {
        Self { apart, ..self }
    }

    /// Reads all fields; what is wrong, or unknown, is named by its path.
    pub fn read<T: DeserializeOwned>(self) -> Result<T, WrongRequest> {
        let mut json = serde_json::Deserializer::from_str(self.text);
        let read = read(Without { json: &mut json, apart: self.apart })?;
        json.end().map_err(no_json)?;
        Ok(read)
    }

    /// Reads the fields that `T` has, and looks past the others.
    pub fn beside<T: DeserializeOwned>(self) -> Result<T, WrongRequest> {
        // Only an object has fields; a list would be read by their order.
        read(Without { json: &mut serde_json::Deserializer::from_str(self.text), apart: &[] })
    }
}

/// Takes apart what the reader of JSON says: what was found, and what it expected.
fn wrong_field(path: &str, says: &str) -> WrongRequest {
    if let Some(name) = says.strip_prefix("missing field `").and_then(|rest| rest.split('`').next()) {
        let path = if path.is_empty() { name.to_owned() } else { format!("{path}.{name}") };
        return WrongRequest::missing(path, Need::Value);
    }
    let (given, expected) = says.split_once(", expected ").unwrap_or((says, "the fields that the task describes"));
    let expected = match expected {
        "f64" => Expected::NUMBER,
        "u64" | "usize" => Expected::whole_from(0),
        other => match other.strip_prefix("at most ").and_then(|most| most.parse().ok()) {
            Some(most) => Expected::at_most(most, "entries"),
            None => Expected::Form { says: other.to_owned() },
        },
    };
    WrongRequest::new(if path.is_empty() { "request" } else { path }, given, expected)
}

fn no_json(error: serde_json::Error) -> WrongRequest {
    WrongRequest::new("request", error, Expected::Form { says: "JSON".into() })
}

fn read<'de, T: Deserialize<'de>>(json: impl Deserializer<'de, Error = serde_json::Error>) -> Result<T, WrongRequest> {
    serde_path_to_error::deserialize(json).map_err(|error| {
        let path = error.path().to_string();
        match error.into_inner() {
            error if error.is_data() => {
                // Where in the text it stands says nothing beside the path.
                let says = error.to_string();
                let says = says.rsplit_once(" at line ").map_or(says.as_str(), |(says, _)| says);
                wrong_field(path.trim_start_matches('.'), says)
            }
            error => no_json(error),
        }
    })
}

/// An object without some of its fields.
struct Without<D> {
    json: D,
    apart: &'static [&'static str],
}

impl<'de, D: Deserializer<'de>> Deserializer<'de> for Without<D> {
    type Error = D::Error;

    fn deserialize_any<V: Visitor<'de>>(self, visitor: V) -> Result<V::Value, D::Error> {
        self.json.deserialize_map(Without { json: visitor, apart: self.apart })
    }

    forward_to_deserialize_any! {
        bool i8 i16 i32 i64 i128 u8 u16 u32 u64 u128 f32 f64 char str string bytes byte_buf option unit
        unit_struct newtype_struct seq tuple tuple_struct map struct enum identifier ignored_any
    }
}

impl<'de, V: Visitor<'de>> Visitor<'de> for Without<V> {
    type Value = V::Value;

    fn expecting(&self, f: &mut std::fmt::Formatter) -> std::fmt::Result {
        self.json.expecting(f)
    }

    fn visit_map<A: MapAccess<'de>>(self, map: A) -> Result<V::Value, A::Error> {
        self.json.visit_map(Without { json: map, apart: self.apart })
    }
}

impl<'de, A: MapAccess<'de>> MapAccess<'de> for Without<A> {
    type Error = A::Error;

    fn next_key_seed<K: DeserializeSeed<'de>>(&mut self, seed: K) -> Result<Option<K::Value>, A::Error> {
        while let Some(name) = self.json.next_key::<String>()? {
            if !self.apart.contains(&name.as_str()) {
                return seed.deserialize(StringDeserializer::new(name)).map(Some);
            }
            self.json.next_value::<IgnoredAny>()?;
        }
        Ok(None)
    }

    fn next_value_seed<S: DeserializeSeed<'de>>(&mut self, seed: S) -> Result<S::Value, A::Error> {
        self.json.next_value_seed(seed)
    }
}
