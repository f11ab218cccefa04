//! What a person or a device enters becomes the content of a sample, or every reason why not.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::characteristic::{Bounds, Characteristic, Kind};
use crate::reading::{Refusal, number};
use crate::sample::{Content, Counts, Defects, Readings};
use crate::setup::NAME_AT_MOST;

/// An entry as it stands in the fields. Measured values use `readings`, `components` and `left_out`;
/// counts use `inspected` and `defects`.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Typed {
    /// One text a piece, with decimal point or comma.
    pub readings: Vec<String>,
    /// One text for each reference component; blank where it was not measured.
    pub components: Vec<String>,
    /// Pieces left out on purpose, from 1.
    pub left_out: Vec<usize>,
    /// Units inspected; may be left out where the number is fixed.
    pub inspected: Option<String>,
    /// Counts by kind.
    pub defects: Vec<Defects>,
    /// By name.
    pub tags: Tags,
}

/// Tags of a sample by name, such as `lot`.
pub type Tags = BTreeMap<String, String>;

/// A reading outside the soft bounds: kept when a person confirms it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Unusual {
    /// Which piece, from 1.
    pub piece: usize,
    /// The value.
    pub given: f64,
    /// Lower soft bound.
    pub lower: Option<f64>,
    /// Upper soft bound.
    pub upper: Option<f64>,
}

/// The content of a sample, complete.
///
/// # Errors
/// Every refusal at once, so that all can be shown where they are.
pub fn read(characteristic: &Characteristic, typed: &Typed) -> Result<Content, Vec<Refusal>> {
    let mut refusals = Vec::new();
    let content = if characteristic.kind == Kind::Measured {
        let expected = characteristic.pieces();
        if typed.readings.len() != expected {
            refusals.push(Refusal::WrongCount { given: typed.readings.len(), expected });
        }
        let on_purpose = |piece: usize| typed.left_out.contains(&piece);
        let values = pieces(characteristic, &typed.readings, &mut refusals, |piece, refusals| {
            if !on_purpose(piece) {
                refusals.push(Refusal::Blank { piece });
            }
        });
        if refusals.is_empty() && values.iter().all(Option::is_none) {
            refusals.push(Refusal::NothingRecorded);
        }
        Content::Readings(Readings { values, components: components(characteristic, typed, &mut refusals) })
    } else {
        Content::Counts(counts(characteristic, typed, &mut refusals))
    };
    check_kind_and_tags(characteristic, typed, &mut refusals);
    if refusals.is_empty() { Ok(content) } else { Err(refusals) }
}

/// What was entered so far, for a point in pencil; `None` while there is nothing to draw.
///
/// # Errors
/// As [`read`], but blanks are no error.
pub fn read_so_far(characteristic: &Characteristic, typed: &Typed) -> Result<Option<Content>, Vec<Refusal>> {
    let mut refusals = Vec::new();
    let content = if characteristic.kind == Kind::Measured {
        let values = pieces(characteristic, &typed.readings, &mut refusals, |_, _| {});
        let some = values.iter().any(Option::is_some);
        some.then_some(Content::Readings(Readings { values, components: vec![] }))
    } else if characteristic.varying && typed.inspected.as_deref().is_none_or(|text| text.trim().is_empty()) {
        None
    } else {
        Some(Content::Counts(counts(characteristic, typed, &mut refusals)))
    };
    if refusals.is_empty() { Ok(content) } else { Err(refusals) }
}

fn pieces(
    characteristic: &Characteristic,
    typed: &[String],
    refusals: &mut Vec<Refusal>,
    blank: impl Fn(usize, &mut Vec<Refusal>),
) -> Vec<Option<f64>> {
    // What is far too long is refused by its count alone.
    let each = typed.iter().take(characteristic.pieces()).enumerate();
    each.map(|(i, text)| {
        if text.trim().is_empty() {
            blank(i + 1, refusals);
            return None;
        }
        number(characteristic, i + 1, text).map_err(|refusal| refusals.push(refusal)).ok()
    })
    .collect()
}

/// Components are measured like the pieces, but the bounds are those of the judged value.
fn components(characteristic: &Characteristic, typed: &Typed, refusals: &mut Vec<Refusal>) -> Vec<Option<f64>> {
    let expected = characteristic.components.len();
    if typed.components.len() > expected {
        refusals.push(Refusal::WrongCount { given: typed.components.len(), expected });
    }
    let unbounded = Characteristic { hard_bounds: Bounds::default(), ..characteristic.clone() };
    (0..expected)
        .map(|i| {
            let text = typed.components.get(i).filter(|text| !text.trim().is_empty())?;
            let piece = characteristic.pieces() + i + 1;
            number(&unbounded, piece, text).map_err(|refusal| refusals.push(refusal)).ok()
        })
        .collect()
}

fn counts(characteristic: &Characteristic, typed: &Typed, refusals: &mut Vec<Refusal>) -> Counts {
    let fixed = (!characteristic.varying).then_some(characteristic.subgroup_size);
    let given = typed.inspected.as_deref().map(str::trim).filter(|text| !text.is_empty());
    let number = given.and_then(|text| text.parse::<u32>().ok()).filter(|n| (1..=1_000_000).contains(n));
    let inspected = match (fixed, given) {
        (Some(fixed), None) => fixed,
        (Some(fixed), Some(_)) if number == Some(fixed) => fixed,
        (None, Some(_)) if number.is_some() => number.unwrap_or_default(),
        _ => {
            let shown = given.unwrap_or_default().chars().take(NAME_AT_MOST).collect();
            refusals.push(Refusal::Inspected { given: shown, expected: fixed });
            return Counts::default();
        }
    };
    let known = |d: &Defects| match (d.kind, d.word.as_deref().map(str::trim)) {
        (Some(kind), None) => characteristic.defect_kinds.iter().any(|k| k.id == kind),
        (None, Some(word)) => !word.is_empty() && word.chars().count() <= NAME_AT_MOST,
        _ => false,
    };
    if typed.defects.len() > 100 || !typed.defects.iter().all(|d| known(d) && (1..=1_000_000).contains(&d.count)) {
        refusals.push(Refusal::Defects);
        return Counts::default();
    }
    let trimmed = |d: &Defects| Defects { word: d.word.as_ref().map(|word| word.trim().to_owned()), ..d.clone() };
    let counts = Counts { inspected, defects: typed.defects.iter().map(trimmed).collect() };
    if characteristic.kind == Kind::NonconformingUnits && counts.count() > inspected {
        refusals.push(Refusal::MoreThanInspected { given: counts.count(), inspected });
    }
    counts
}

fn check_kind_and_tags(characteristic: &Characteristic, typed: &Typed, refusals: &mut Vec<Refusal>) {
    let measured = !typed.readings.is_empty() || !typed.components.is_empty() || !typed.left_out.is_empty();
    let counted = typed.inspected.is_some() || !typed.defects.is_empty();
    if (characteristic.kind == Kind::Measured && counted) || (characteristic.kind != Kind::Measured && measured) {
        refusals.push(Refusal::OtherKind);
    }
    for (tag, value) in &typed.tags {
        let asked = characteristic.asked_tags.contains(tag);
        if !asked || value.chars().count() > NAME_AT_MOST || value.chars().any(char::is_control) {
            refusals.push(Refusal::Tag { tag: tag.chars().take(NAME_AT_MOST).collect() });
        }
    }
}

/// Tags trimmed; blank ones are left out.
pub fn kept_tags(typed: &Typed) -> Tags {
    let kept = |(name, value): (&String, &String)| (name.clone(), value.trim().to_owned());
    typed.tags.iter().map(kept).filter(|(_, value)| !value.is_empty()).collect()
}

/// The readings that a person is asked about before they are kept.
pub fn unusual(characteristic: &Characteristic, content: &Content) -> Vec<Unusual> {
    let Content::Readings(readings) = content else { return vec![] };
    let bounds = characteristic.soft_bounds;
    readings
        .values
        .iter()
        .enumerate()
        .filter_map(|(i, value)| value.filter(|x| !bounds.hold(*x)).map(|given| (i + 1, given)))
        .map(|(piece, given)| Unusual { piece, given, lower: bounds.lower, upper: bounds.upper })
        .collect()
}
