//! Samples from devices, by token: many at a time, each saved once, refusals counted.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::State;
use axum::http::HeaderMap;
use chrono::{DateTime, Utc};
use quality::device::{Link, Reason};
use quality::entry::{Origin, Tags, Typed, Usual, accept, accept_time};
use quality::field::{Allowed, WrongField};
use quality::sample::Defects;
use serde::{Deserialize, Serialize};
use store::StoreError;
use store::characteristics::{self, CharacteristicView};
use store::devices::{Device, DeviceSample, reason_of};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::app::App;
use crate::failure::Failure;
use crate::json::Body;
use crate::problem::Problem;
use crate::tokens;

/// Most samples of one request.
const SAMPLES_AT_MOST: usize = 1000;

/// Samples saved in one transaction: for so long a person who enters a sample of the same waits at most.
const HELD_AT_MOST: usize = 50;

/// Samples of a device.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Ingest {
    /// 1 to 1000, in the order in which they were taken.
    samples: Vec<IngestSample>,
}

/// A sample as a device sends it.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct IngestSample {
    /// Made by the device; sending it twice saves one sample.
    entry: Uuid,
    /// What was sampled.
    characteristic: Uuid,
    /// When it was taken; now when left out.
    taken_at: Option<DateTime<Utc>>,
    /// One a piece: a number, or a text that may end in the unit.
    #[serde(default)]
    readings: Vec<Figure>,
    /// One for each reference component.
    #[serde(default)]
    components: Vec<Figure>,
    /// Pieces left out on purpose, from 1.
    #[serde(default)]
    left_out: Vec<usize>,
    /// Units inspected.
    inspected: Option<u32>,
    /// Counts by kind.
    #[serde(default)]
    defects: Vec<Defects>,
    /// Conforming units since the rare event before.
    between: Option<u32>,
    /// Tags by name.
    #[serde(default)]
    tags: Tags,
}

/// A number as a number or as text.
#[derive(Deserialize, ToSchema)]
#[serde(untagged)]
enum Figure {
    /// As JSON writes it.
    Number(f64),
    /// With decimal point or comma, and the unit where it is sent along.
    Text(String),
}

impl From<Figure> for String {
    fn from(figure: Figure) -> Self {
        match figure {
            Figure::Number(number) => number.to_string(),
            Figure::Text(text) => text,
        }
    }
}

/// What became of a request.
#[derive(Serialize, ToSchema)]
pub struct Ingested {
    /// Samples saved now.
    saved: usize,
    /// Samples that had been saved before.
    again: usize,
    /// Samples refused; the others are saved.
    refused: usize,
    /// One for each sample, in order.
    samples: Vec<IngestedSample>,
}

/// What became of a sample.
#[derive(Serialize, ToSchema)]
pub struct IngestedSample {
    /// As sent.
    entry: Uuid,
    /// Its number within the characteristic.
    number: Option<i64>,
    /// Why it is refused.
    refused: Option<Reason>,
}

/// Saves samples in a device's own name, with `Authorization: Bearer <token>`. Nobody can be asked
/// about readings outside the soft bounds, so they are kept.
#[utoipa::path(post, path = "/api/ingest", tag = "devices", request_body = Ingest, responses(
    (status = 200, body = Ingested, description = "valid samples are saved, also beside refused ones"),
    (status = 401, body = Problem, description = "`unknown_token`"),
    (status = 422, body = Problem, description = "`field_refused`"),
    (status = 503, body = Problem, description = "`database_away`: send the same again")))]
pub async fn ingest(
    State(app): State<App>,
    headers: HeaderMap,
    body: Result<Body<Ingest>, Problem>,
) -> Result<Json<Ingested>, Problem> {
    let device =
        tokens::device(&app.pool, &headers, |link| *link == Link::Ingest).await?.ok_or(Failure::UnknownToken {})?;
    let now = Utc::now();
    let samples = match body {
        Ok(Body(Ingest { samples })) if (1..=SAMPLES_AT_MOST).contains(&samples.len()) => samples,
        Ok(_) => {
            store::devices::refuse(&app.pool, device.id, now, Reason::TooMany, 1, "").await?;
            return Err(WrongField::new("samples", Allowed::Entries { least: 1, most: SAMPLES_AT_MOST }).into());
        }
        Err(problem) => {
            store::devices::refuse(&app.pool, device.id, now, Reason::Unreadable, 1, problem.title()).await?;
            return Err(problem);
        }
    };
    let mut outcomes: Vec<IngestedSample> =
        samples.iter().map(|s| IngestedSample { entry: s.entry, number: None, refused: None }).collect();
    let mut groups: BTreeMap<Uuid, (Vec<usize>, Vec<DeviceSample>)> = BTreeMap::new();
    let mut setups: BTreeMap<Uuid, Option<CharacteristicView>> = BTreeMap::new();
    let mut refusals: BTreeMap<Reason, (usize, String)> = BTreeMap::new();
    let mut refuse = |outcome: &mut IngestedSample, reason: Reason, last: String| {
        let counted = refusals.entry(reason).or_default();
        *counted = (counted.0 + 1, last);
        outcome.refused = Some(reason);
    };
    for (place, sample) in samples.into_iter().enumerate() {
        let id = sample.characteristic;
        if let std::collections::btree_map::Entry::Vacant(entry) = setups.entry(id) {
            entry.insert(allowed(&app, &device, id).await?);
        }
        let Some(Some(setup)) = setups.get(&id) else {
            refuse(&mut outcomes[place], Reason::OtherStation, id.to_string());
            continue;
        };
        match sample.accept(setup, now) {
            Ok(sample) => {
                let (places, samples) = groups.entry(id).or_default();
                places.push(place);
                samples.push(sample);
            }
            Err((reason, last)) => refuse(&mut outcomes[place], reason, last),
        }
    }
    let (mut saved, mut again) = (0, 0);
    for (characteristic, (places, samples)) in &groups {
        for (places, samples) in places.chunks(HELD_AT_MOST).zip(samples.chunks(HELD_AT_MOST)) {
            let made = store::devices::save_batch(&app.pool, device.id, *characteristic, samples, now).await?;
            for (&place, made) in places.iter().zip(made) {
                match made {
                    Ok(sample) => {
                        *(if sample.again { &mut again } else { &mut saved }) += 1;
                        outcomes[place].number = Some(sample.number);
                    }
                    Err(refusal) => {
                        let last = outcomes[place].entry.to_string();
                        refuse(&mut outcomes[place], reason_of(&refusal), last);
                    }
                }
            }
        }
    }
    let refused = outcomes.iter().filter(|outcome| outcome.refused.is_some()).count();
    for (reason, (count, last)) in refusals {
        store::devices::refuse(&app.pool, device.id, now, reason, count, &last).await?;
    }
    store::devices::heard(&app.pool, device.id, now, saved).await?;
    Ok(Json(Ingested { saved, again, refused, samples: outcomes }))
}

/// The characteristic, when the device may send for its station.
async fn allowed(app: &App, device: &Device, characteristic: Uuid) -> Result<Option<CharacteristicView>, Problem> {
    match characteristics::find(&app.pool, characteristic).await {
        Ok(setup) => Ok(Some(setup).filter(|setup| device.stations.contains(&setup.station_id))),
        Err(StoreError::Missing(_)) => Ok(None),
        Err(error) => Err(error.into()),
    }
}

impl IngestSample {
    /// The sample as it can be saved, or the reason why not with what came.
    fn accept(self, setup: &CharacteristicView, now: DateTime<Utc>) -> Result<DeviceSample, (Reason, String)> {
        let taken_at = accept_time(self.taken_at, now, Origin::Instrument)
            .map_err(|refusal| (Reason::from(&refusal), self.taken_at.unwrap_or(now).to_rfc3339()))?;
        let typed = Typed {
            readings: self.readings.into_iter().map(Into::into).collect(),
            components: self.components.into_iter().map(Into::into).collect(),
            left_out: self.left_out,
            inspected: self.inspected.map(|n| n.to_string()),
            defects: self.defects,
            tags: self.tags,
            between: self.between.map(|n| n.to_string()),
            typed_first: vec![],
        };
        match accept(&setup.characteristic, &Usual::EVERYTHING, &typed, Origin::Instrument) {
            Ok(accepted) => Ok(DeviceSample { entry: self.entry, taken_at, accepted }),
            Err(refusal) => {
                let counts = typed.defects.iter().map(|defect| defect.count.to_string());
                let came: Vec<String> = typed.readings.into_iter().chain(typed.inspected).chain(counts).collect();
                Err((Reason::from(&refusal), came.join(" · ")))
            }
        }
    }
}
