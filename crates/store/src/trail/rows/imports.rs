//! Samples that were brought in: the trail tells them by one digest for all of an import.

use std::collections::HashMap;

use chrono::{DateTime, Utc};
use quality::import::ImportSource;
use serde_json::{Value, json};
use sqlx::PgConnection;
use sqlx::types::Json;
use uuid::Uuid;

use super::compare::each;
use crate::StoreError;
use crate::once::compiled_once;
use crate::trail::ImportDigest;
use crate::trail::expected::{CONTENT, Expected, Sample, fields};
use crate::trail::report::Report;

/// Digests of imports, as their samples come by in the order of their numbers.
pub(super) struct Imports {
    digests: HashMap<Uuid, ImportDigest>,
    /// How far events lie apart follows from their times, and is not told.
    asks_when: bool,
}

impl Imports {
    #[compiled_once]
    pub async fn read(conn: &mut PgConnection, characteristic: Uuid) -> Result<Self, StoreError> {
        let asks_when =
            sqlx::query_scalar!(r#"select chart = 't' as "when!" from characteristic where id = $1"#, characteristic);
        Ok(Self { digests: HashMap::new(), asks_when: asks_when.fetch_one(conn).await? })
    }

    /// A sample as it was brought in, and what was said of it since; `held` is its row, `first` what it held before it
    /// was corrected.
    pub fn told(
        &mut self,
        expected: &Expected,
        import: Uuid,
        since: Option<&Sample>,
        (held, taken_at, first): (&Value, DateTime<Utc>, Option<&Value>),
    ) -> Result<Sample, StoreError> {
        let content = first.map_or_else(|| self.content(held), Clone::clone);
        let number = held["number"].as_i64().unwrap_or_default();
        let entry: Uuid = serde_json::from_value(held["entry"].clone())?;
        self.digests.entry(import).or_default().take((number, taken_at), entry, &content)?;
        let mut sample = since.cloned().unwrap_or_default();
        let of_import = expected.imports.get(&import);
        sample.person = of_import.and_then(|said| serde_json::from_value(said["person"].clone()).ok());
        sample.says = fields(held, &["number", "taken_at", "entry"]);
        sample.says["device"] = of_import.map_or(Value::Null, |said| said["device"].clone());
        for said in std::iter::once(&content).chain(sample.corrections.iter().map(|correction| &correction["new"])) {
            let Some(says) = sample.says.as_object_mut() else { continue };
            says.retain(|name, _| !CONTENT.contains(&name.as_str()));
            says.extend(said.as_object().into_iter().flatten().map(|(name, value)| (name.clone(), value.clone())));
        }
        Ok(sample)
    }

    /// As it is told, from what the row holds.
    fn content(&self, held: &Value) -> Value {
        let names: &[&str] = match held {
            _ if !held["because"].is_null() => &["because"],
            _ if !held["readings"].is_null() => &["readings", "tags"],
            _ if held["event"] == json!(true) && self.asks_when => &["event", "tags"],
            _ if held["event"] == json!(true) => &["event", "between", "tags"],
            _ => &["inspected", "count", "defects", "tags"],
        };
        fields(held, names)
    }

    /// Each import against what is told of it.
    #[compiled_once]
    pub async fn compare(
        self,
        conn: &mut PgConnection,
        characteristic: Uuid,
        expected: &Expected,
        report: &mut Report,
    ) -> Result<(), StoreError> {
        let rows = sqlx::query!(
            r#"select id, source, file_digest, stored, person_id, key, stated as "stated: Json<Value>" from import
               where characteristic_id = $1 and state = 'done' and stored > 0"#,
            characteristic
        );
        let rows = rows.fetch_all(conn).await?;
        let mut digests: HashMap<Uuid, String> =
            self.digests.into_iter().map(|(import, digest)| (import, digest.hex())).collect();
        let held = rows.into_iter().map(|row| {
            let device = ImportSource { name: &row.source, characteristic }.device();
            let holds = json!({"samples": row.stored, "device": device, "digest": digests.remove(&row.id),
                               "file_digest": row.file_digest, "source": row.source, "stated": row.stated,
                               "key": row.key, "person": row.person_id});
            (row.id, holds)
        });
        each(report, "import", &expected.imports, held.collect::<Vec<_>>());
        Ok(())
    }
}
