//! What the entries of a chain say that the tables hold.

use std::collections::{BTreeMap, BTreeSet, HashMap};

use chrono::{DateTime, SubsecRound, Utc};
use quality::trail::Action;
use serde_json::{Value, json};
use uuid::Uuid;

use super::work::{Work, uuid};

/// A sample as the trail tells it.
#[derive(Debug, Clone, Default)]
pub(super) struct Sample {
    /// Number, time, readings, counts and tags, as they are now.
    pub says: Value,
    pub person: Option<Uuid>,
    /// Who withdrew it, and why.
    pub withdrawn: Option<Value>,
    /// Each correction, oldest first.
    pub corrections: Vec<Value>,
    /// Each time that it was set aside, oldest first.
    pub asides: Vec<Value>,
    /// Each restart, oldest first.
    pub restarts: Vec<Value>,
}

/// A signal as the trail tells it.
#[derive(Debug, Clone, Default)]
pub(super) struct Signal {
    /// Panel, rule, side and the figures it was raised against.
    pub raised: Value,
    pub state: String,
    pub withdrawn: bool,
    /// The episode it is in, since trails tell of them.
    pub episode: Option<Value>,
    pub answers: Vec<Value>,
    pub reviews: Vec<Value>,
}

/// What one chain says, entry after entry.
#[derive(Debug, Default)]
pub(super) struct Expected {
    pub samples: HashMap<Uuid, Sample>,
    /// Imports, with the digests of their samples.
    pub imports: HashMap<Uuid, Value>,
    pub signals: HashMap<Uuid, Signal>,
    /// Figures of limits that were put in force or given.
    pub limits: HashMap<Uuid, Value>,
    /// Each time that limits were kept, oldest first.
    pub kept: HashMap<Uuid, Vec<Value>>,
    /// Events at which no phase began, and who said so.
    pub declined: HashMap<Uuid, Value>,
    /// Such limits from before the trail told of them.
    pub limits_before: HashMap<Uuid, Value>,
    /// Schemes that were kept when others began, and when.
    pub schemes: BTreeMap<DateTime<Utc>, Value>,
    /// Phases that were started since the trail tells of them.
    pub phases: HashMap<Uuid, Value>,
    /// Versions of named rule sets.
    pub rule_sets: BTreeMap<(Uuid, i64), Value>,
    /// Entries of the catalogue of causes, since the trail tells of them.
    pub causes: HashMap<Uuid, Value>,
    /// Signatures with what they cover.
    pub signatures: HashMap<Uuid, Value>,
    /// Episodes that were raised to the supervisors, and when.
    pub escalated: HashMap<Uuid, Value>,
    /// What was added to answers, oldest first.
    pub additions: HashMap<Uuid, Vec<Value>>,
    /// Photos and documents: name and digest.
    pub files: HashMap<Uuid, Value>,
    /// Restarts that answers asked for.
    pub planned_restarts: HashMap<Uuid, Value>,
    /// Notes on points, as they are now.
    pub notes: HashMap<Uuid, Value>,
    /// Words left to the next shift.
    pub handover_words: HashMap<Uuid, Value>,
    /// Runs that were marked as reviewed.
    pub run_reviews: HashMap<Uuid, Value>,
    /// What was done about runs.
    pub run_actions: HashMap<Uuid, Value>,
    /// Other programs that are told.
    pub webhooks: HashMap<Uuid, Value>,
    /// Who has read a handover.
    pub handover_read: HashMap<Uuid, Value>,
    /// Sign-in, role, where they belong, and what was changed of it.
    pub people: HashMap<Uuid, Value>,
    /// Studies, cause trees and peer groups.
    pub work: Work,
    /// The chains that the site's chain lists.
    pub chains: BTreeSet<Uuid>,
}

/// The named fields of an object.
pub(super) fn fields(of: &Value, names: &[&str]) -> Value {
    names.iter().filter_map(|name| Some(((*name).to_owned(), of.get(name)?.clone()))).collect()
}

/// What is said of a person when they are added.
const PERSON: [&str; 6] = ["login", "name", "role", "areas", "stations", "bound"];

/// What limits are made of.
const FIGURES: [&str; 8] = ["center", "sigma", "sigma_between", "mean_n", "shape", "scale", "lower", "upper"];

pub(super) const CONTENT: [&str; 9] =
    ["readings", "components", "inspected", "count", "defects", "event", "between", "tags", "doubts"];

impl Expected {
    pub fn take(&mut self, action: Action, object: Uuid, person: Option<Uuid>, at: DateTime<Utc>, detail: &Value) {
        match action {
            Action::SampleSaved | Action::SampleSkipped => {
                let names = [&["number", "taken_at", "device", "entry", "because"][..], &CONTENT].concat();
                self.samples.insert(object, Sample { says: fields(detail, &names), person, ..Sample::default() });
            }
            Action::SampleCorrected => {
                let sample = self.samples.entry(object).or_default();
                let mut said = fields(detail, &["old", "new", "reason"]);
                said["person"] = json!(person);
                sample.corrections.push(said);
                for name in CONTENT {
                    let Some(says) = sample.says.as_object_mut() else { continue };
                    says.remove(name);
                    says.extend(detail["new"].get(name).map(|value| (name.to_owned(), value.clone())));
                }
            }
            Action::SamplesImported => {
                let names = ["samples", "device", "digest", "file_digest", "source", "stated", "key"];
                let mut said = fields(detail, &names);
                said["person"] = json!(person);
                self.imports.insert(object, said);
            }
            Action::SampleWithdrawn => {
                let withdrawn = json!({"person": person, "reason": detail["reason"]});
                self.samples.entry(object).or_default().withdrawn = Some(withdrawn);
            }
            Action::SignalRaised => {
                let signal = self.signals.entry(object).or_default();
                signal.raised = fields(detail, &["panel", "rule", "side", "center", "sigma", "run"]);
                signal.state = detail["state"].as_str().unwrap_or("open").to_owned();
            }
            Action::SignalGrown => {
                if let Some(state) = detail["new"]["state"].as_str() {
                    state.clone_into(&mut self.signals.entry(object).or_default().state);
                }
            }
            Action::SignalGathered => {
                self.signals.entry(object).or_default().episode = Some(detail["new"]["episode"].clone());
            }
            Action::SignalWithdrawn => {
                let signal = self.signals.entry(object).or_default();
                signal.withdrawn = true;
                if let Some(state) = detail["new"]["state"].as_str() {
                    state.clone_into(&mut signal.state);
                }
            }
            Action::SignalTakenUp => {
                let signal = self.signals.entry(object).or_default();
                signal.withdrawn = false;
                // Trails before episodes call what was sent back open.
                let sent_back = signal.reviews.last().is_some_and(|last| last["decision"] == json!("sent_back"));
                let answered_since = signal.answers.len() > signal.reviews.len();
                signal.state = match detail["new"]["state"].as_str().unwrap_or_default() {
                    "open" if sent_back && !answered_since => "sent_back".to_owned(),
                    state => state.to_owned(),
                };
            }
            Action::SampleSetAside => {
                let said = json!({"cause": detail["cause"], "person": person, "taken_back_by": null});
                self.samples.entry(object).or_default().asides.push(said);
            }
            Action::SampleTakenBack => {
                if let Some(last) = self.samples.entry(object).or_default().asides.last_mut() {
                    last["taken_back_by"] = json!(person);
                }
            }
            Action::RestartMarked => {
                let said = json!({"reason": detail["reason"], "person": person, "undone_by": null});
                self.samples.entry(object).or_default().restarts.push(said);
            }
            Action::RestartUndone => {
                if let Some(last) = self.samples.entry(object).or_default().restarts.last_mut() {
                    last["undone_by"] = json!(person);
                }
            }
            Action::CharacteristicChanged if detail["keeps_scheme"] == json!(true) => {
                self.schemes.insert(at, fields(&detail["old"], &["chart", "options", "rule_set", "k"]));
            }
            Action::PhaseStarted => {
                let mut says = fields(detail, &["name", "starts_at"]);
                // The table keeps microseconds.
                if let Some(starts_at) = detail["starts_at"].as_str().and_then(|at| at.parse::<DateTime<Utc>>().ok()) {
                    says["starts_at"] = json!(starts_at.trunc_subsecs(6));
                }
                self.phases.insert(object, says);
            }
            Action::PhaseMoved | Action::PhaseRenamed => {
                if let Some((says, new)) = self.phases.get_mut(&object).zip(detail["new"].as_object())
                    && let Some(says) = says.as_object_mut()
                {
                    says.extend(new.clone());
                }
            }
            Action::PhaseMerged => {
                if let Some(says) = self.phases.get_mut(&object) {
                    says["merged"] = json!(true);
                }
            }
            Action::SignalAnswered | Action::EpisodeAnswered => {
                let said = ["cause", "nothing_found", "action", "comment", "steps", "held", "corrected"];
                let mut answer = fields(detail, &said);
                // Told when it reached the server, with the time when it was given since answers may wait.
                (answer["person"], answer["at"]) = (json!(person), said_at(detail, at));
                self.take_files(detail);
                self.each_signal(object, detail, |signal| signal.answers.push(answer.clone()));
            }
            Action::AnswerAddedTo => {
                let mut said = fields(detail, &["addition", "comment"]);
                (said["person"], said["at"]) = (json!(person), said_at(detail, at));
                self.additions.entry(object).or_default().push(said);
                self.take_files(detail);
            }
            Action::RestartPlanned => {
                let mut says = fields(detail, &["corrected_at"]);
                says["dropped"] = json!(false);
                self.planned_restarts.insert(object, says);
            }
            Action::RestartDropped => {
                self.planned_restarts.entry(object).or_default()["dropped"] = json!(true);
            }
            Action::SignalReviewed | Action::EpisodeReviewed => {
                let mut review = fields(detail, &["decision", "remark"]);
                (review["person"], review["at"]) = (json!(person), json!(at));
                self.each_signal(object, detail, |signal| signal.reviews.push(review.clone()));
            }
            Action::LimitsPutInForce => {
                self.limits.insert(object, fields(detail, &FIGURES));
            }
            Action::PhaseDeclined => {
                self.declined.insert(object, json!({"person": person}));
            }
            Action::LimitsKept => {
                let mut said = fields(detail, &["reason", "until"]);
                said["person"] = json!(person);
                self.kept.entry(object).or_default().push(said);
            }
            Action::LevelAssigned => {
                if let Some(limits) = uuid(&detail["limits"]) {
                    self.limits.insert(limits, json!({"center": detail["mean"], "sigma": detail["sd"]}));
                }
            }
            Action::PersonAdded => {
                self.people.insert(object, fields(detail, &PERSON));
            }
            Action::NoteWritten => {
                let mut says = json!({"answers_to": null, "mentions": []});
                if let Some(says) = says.as_object_mut() {
                    says.extend(
                        fields(detail, &["sample", "text", "answers_to", "mentions"])
                            .as_object()
                            .cloned()
                            .unwrap_or_default(),
                    );
                    says.insert("person".into(), json!(person));
                }
                self.notes.insert(object, says);
            }
            Action::NoteChanged => {
                if let (Some(says), Some(new)) =
                    (self.notes.get_mut(&object).and_then(Value::as_object_mut), detail["new"].as_object())
                {
                    says.extend(new.clone());
                }
            }
            Action::HandoverWritten => {
                let mut says = fields(detail, &["shift", "area", "text"]);
                says["person"] = json!(person);
                self.handover_words.insert(object, says);
            }
            Action::HandoverRead => {
                let mut says = fields(detail, &["shift", "open"]);
                says["person"] = json!(person);
                self.handover_read.insert(object, says);
            }
            Action::RunReviewed => {
                let says = json!({"run": object, "person": person, "version": detail["version"],
                                  "remark": detail["remark"]});
                self.run_reviews.extend(uuid(&detail["review"]).map(|review| (review, says)));
            }
            Action::RunActedOn => {
                let says = json!({"run": object, "person": person, "characteristic": detail["characteristic"],
                                  "text": detail["text"]});
                self.run_actions.extend(uuid(&detail["action"]).map(|action| (action, says)));
            }
            Action::NoticesChosen => self.person_is(object, detail),
            Action::WebhookSetUp | Action::WebhookChanged => {
                self.webhooks.insert(object, detail.clone());
            }
            Action::PersonChanged => self.person_is(object, &detail["new"]),
            Action::PersonClosed => self.person_is(object, &json!({"active": false})),
            Action::PersonReopened => self.person_is(object, &json!({"active": true})),
            Action::RuleSetNamed | Action::RuleSetChanged => {
                let version = detail["version"].as_i64().unwrap_or_default();
                let mut says = fields(detail, &["rules"]);
                says["person"] = json!(person);
                self.rule_sets.insert((object, version), says);
            }
            Action::CauseAdded | Action::CauseProposed => {
                self.causes.insert(object, fields(detail, &["name", "group", "area", "state", "same_as"]));
            }
            Action::CauseChanged => {
                // Older ones were there before the trail told of them.
                let says = self.causes.entry(object).or_insert_with(|| fields(detail, &["name"]));
                if let (Some(says), Some(new)) = (says.as_object_mut(), detail["new"].as_object()) {
                    says.extend(new.clone());
                }
            }
            Action::EpisodeEscalated => {
                self.escalated.insert(object, json!({"escalated_at": at}));
            }
            Action::ReviewsSigned => {
                let mut says = fields(detail, &["meaning", "name", "reviews"]);
                (says["person"], says["at"]) = (json!(person), json!(at));
                self.signatures.insert(object, says);
            }
            Action::DeviceSetUp => {
                self.people.insert(object, json!({"role": "device"}));
            }
            Action::ChainBegun => {
                self.chains.insert(object);
            }
            Action::StateRecorded => self.take_state(detail),
            _ => self.work.take(action, object, person, at, detail),
        }
    }

    /// What was said or decided, of each signal that it was said of: of one alone before there were episodes.
    fn each_signal(&mut self, object: Uuid, detail: &Value, say: impl Fn(&mut Signal)) {
        let state = match detail["decision"].as_str() {
            Some("sent_back") => "sent_back",
            _ => detail["new"]["state"].as_str().unwrap_or_default(),
        };
        let signals = match detail["signals"].as_array() {
            Some(signals) => signals.iter().filter_map(uuid).collect(),
            None => vec![object],
        };
        for id in signals {
            let signal = self.signals.entry(id).or_default();
            say(signal);
            state.clone_into(&mut signal.state);
        }
    }

    fn take_files(&mut self, detail: &Value) {
        for file in detail["files"].as_array().into_iter().flatten() {
            self.files.extend(uuid(&file["file"]).map(|id| (id, fields(file, &["name", "sha256"]))));
        }
    }

    /// What is said of a person from now on.
    fn person_is(&mut self, person: Uuid, now: &Value) {
        let says = self.people.entry(person).or_insert_with(|| json!({}));
        for (field, value) in now.as_object().into_iter().flatten() {
            says[field] = value.clone();
        }
    }

    fn take_state(&mut self, detail: &Value) {
        let list = |name: &str| detail[name].as_array().into_iter().flatten();
        self.chains.extend(list("chains").filter_map(uuid));
        self.people.extend(list("people").filter_map(|p| Some((uuid(&p["id"])?, fields(p, &["login", "role"])))));
        let limits = list("limits").filter_map(|l| Some((uuid(&l["id"])?, fields(l, &FIGURES))));
        self.limits_before.extend(limits);
    }
}

/// When something was said that may have had to wait.
fn said_at(detail: &Value, told_at: DateTime<Utc>) -> Value {
    let at = detail["at"].as_str().and_then(|at| at.parse::<DateTime<Utc>>().ok());
    json!(at.unwrap_or(told_at))
}
