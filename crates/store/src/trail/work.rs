//! What the site's chain says of studies, cause trees, peer groups and recipes.

use std::collections::HashMap;

use chrono::{DateTime, Utc};
use quality::trail::Action;
use serde_json::{Value, json};
use uuid::Uuid;

/// Each as it was last told of.
#[derive(Debug, Default)]
pub(super) struct Work {
    /// Studies with digests of their answers, as they are now.
    pub studies: HashMap<Uuid, Value>,
    /// Who signed frozen ones, and which answer.
    pub study_signatures: HashMap<Uuid, Value>,
    /// Cause trees as they were last told of.
    pub cause_trees: HashMap<Uuid, Value>,
    /// Their ideas.
    pub ideas: HashMap<Uuid, Value>,
    /// Peer groups with digests of their tokens.
    pub peer_groups: HashMap<Uuid, Value>,
    /// Results that were given to them, as they stand.
    pub peer_results: HashMap<Uuid, Value>,
    /// What they told of themselves.
    pub peer_statistics: HashMap<Uuid, Value>,
    /// Recipes for tables.
    pub recipes: HashMap<Uuid, Value>,
    /// Every version that they had.
    pub recipe_versions: HashMap<Uuid, Value>,
}

/// A version of a recipe, by one name.
pub(super) fn version_of(recipe: Uuid, version: i64) -> Uuid {
    Uuid::new_v5(&recipe, version.to_string().as_bytes())
}

impl Work {
    pub fn take(&mut self, action: Action, object: Uuid, person: Option<Uuid>, at: DateTime<Utc>, detail: &Value) {
        match action {
            Action::StudyKept | Action::StudyChanged | Action::StudyFrozen => {
                self.studies.insert(object, detail.clone());
            }
            Action::StudySigned => {
                let mut says = detail.clone();
                (says["person"], says["at"]) = (json!(person), json!(at));
                self.study_signatures.insert(object, says);
            }
            Action::PeerGroupSetUp | Action::PeerGroupChanged => {
                self.peer_groups.insert(object, detail.clone());
            }
            Action::PeerResultsGiven => {
                for result in listed(&detail["results"]) {
                    let mut says = result.clone();
                    (says["group"], says["withdrawn_by"], says["withdrawn_because"]) =
                        (json!(object), Value::Null, Value::Null);
                    self.peer_results.extend(uuid(&result["id"]).map(|id| (id, says)));
                }
            }
            Action::PeerResultsWithdrawn => {
                for id in listed(&detail["results"]).iter().filter_map(uuid) {
                    let says = self.peer_results.entry(id).or_insert_with(|| json!({}));
                    (says["withdrawn_by"], says["withdrawn_because"]) = (json!(person), detail["because"].clone());
                }
            }
            Action::PeerStatisticsTold => {
                for statistic in listed(&detail["statistics"]) {
                    let mut says = statistic.clone();
                    says["group"] = json!(object);
                    self.peer_statistics.extend(uuid(&statistic["id"]).map(|id| (id, says)));
                }
            }
            Action::RecipeKept | Action::RecipeChanged => {
                let version = version_of(object, detail["version"].as_i64().unwrap_or_default());
                let mut says = detail.clone();
                if says["key"].is_null() {
                    // Kept before rows had keys.
                    says["key"] = json!([]);
                }
                let holds = json!({"recipe": says["recipe"], "key": says["key"], "person": person});
                self.recipe_versions.insert(version, holds);
                self.recipes.insert(object, says);
            }
            Action::CauseTreeStarted => {
                self.cause_trees.insert(object, detail.clone());
            }
            Action::CauseTreeChanged => {
                if let Some(says) = self.cause_trees.get_mut(&object) {
                    (says["name"], says["facts"]) = (detail["name"].clone(), detail["facts"].clone());
                }
            }
            Action::IdeasChanged => self.take_ideas(object, detail),
            _ => {}
        }
    }

    /// Ideas as they were written; what was once catalogued stays so.
    fn take_ideas(&mut self, tree: Uuid, detail: &Value) {
        for idea in listed(&detail["ideas"]) {
            let Some(id) = uuid(&idea["id"]) else { continue };
            let mut says = idea.clone();
            says["tree"] = json!(tree);
            if let Some(cause) = self.ideas.get(&id).map(|before| before["cause"].clone()) {
                says["cause"] = if says["cause"].is_null() { cause } else { says["cause"].clone() };
            }
            self.ideas.insert(id, says);
        }
    }
}

/// The entries of a list.
fn listed(list: &Value) -> &[Value] {
    list.as_array().map_or(&[], Vec::as_slice)
}

pub(super) fn uuid(text: &Value) -> Option<Uuid> {
    text.as_str()?.parse().ok()
}
