//! What was typed becomes the content of a sample, or every reason why not.

use super::typed::Typed;
use crate::characteristic::{Bounds, Characteristic, Kind};
use crate::field::NAME_AT_MOST;
use crate::part::PART_TAG;
use crate::reading::{ReadingRefusal, number};
use crate::sample::{Content, Counts, Defects, RareEvent, Readings};

/// Conforming units between two events at most.
const BETWEEN_AT_MOST: u32 = 1_000_000_000;

/// The content of a sample, complete.
///
/// # Errors
/// Every refusal at once, so that all can be shown where they are.
pub(super) fn read(characteristic: &Characteristic, typed: &Typed) -> Result<Content, Vec<ReadingRefusal>> {
    let mut refusals = Vec::new();
    let content = if characteristic.kind == Kind::RareEvent {
        Content::Event(event(characteristic, typed, &mut refusals))
    } else if characteristic.kind == Kind::Measured {
        let expected = characteristic.pieces();
        if typed.readings.len() != expected {
            refusals.push(ReadingRefusal::WrongCount { given: typed.readings.len(), expected });
        }
        let on_purpose = |piece: usize| typed.left_out.contains(&piece);
        let values = pieces(characteristic, &typed.readings, &mut refusals, |piece, refusals| {
            if !on_purpose(piece) {
                refusals.push(ReadingRefusal::Blank { piece });
            }
        });
        if refusals.is_empty() && values.iter().all(Option::is_none) {
            refusals.push(ReadingRefusal::NothingRecorded);
        }
        Content::Readings(Readings { values, components: components(characteristic, typed, &mut refusals) })
    } else {
        Content::Counts(counts(characteristic, typed, &mut refusals))
    };
    check_kind_and_tags(characteristic, typed, &mut refusals);
    check_typed_first(characteristic, typed, &mut refusals);
    if refusals.is_empty() { Ok(content) } else { Err(refusals) }
}

/// What was entered so far, for a point in pencil; `None` while there is nothing to draw.
///
/// # Errors
/// As of a complete entry, but blanks are no error.
pub fn read_so_far(characteristic: &Characteristic, typed: &Typed) -> Result<Option<Content>, Vec<ReadingRefusal>> {
    let mut refusals = Vec::new();
    let content = if characteristic.kind == Kind::RareEvent {
        // Without the event before, its time says nothing yet.
        let begun = typed.between.as_deref().is_some_and(|text| !text.trim().is_empty());
        (begun && !characteristic.asks_when()).then(|| Content::Event(event(characteristic, typed, &mut refusals)))
    } else if characteristic.kind == Kind::Measured {
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
    refusals: &mut Vec<ReadingRefusal>,
    blank: impl Fn(usize, &mut Vec<ReadingRefusal>),
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
fn components(characteristic: &Characteristic, typed: &Typed, refusals: &mut Vec<ReadingRefusal>) -> Vec<Option<f64>> {
    let expected = characteristic.components.len();
    if typed.components.len() > expected {
        refusals.push(ReadingRefusal::WrongCount { given: typed.components.len(), expected });
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

fn counts(characteristic: &Characteristic, typed: &Typed, refusals: &mut Vec<ReadingRefusal>) -> Counts {
    let fixed = (!characteristic.varying).then_some(characteristic.subgroup_size);
    let given = typed.inspected.as_deref().map(str::trim).filter(|text| !text.is_empty());
    let number = given.and_then(|text| text.parse::<u32>().ok()).filter(|n| (1..=1_000_000).contains(n));
    let inspected = match (fixed, given) {
        (Some(fixed), None) => fixed,
        (Some(fixed), Some(_)) if number == Some(fixed) => fixed,
        (None, Some(_)) if number.is_some() => number.unwrap_or_default(),
        _ => {
            let shown = given.unwrap_or_default().chars().take(NAME_AT_MOST).collect();
            refusals.push(ReadingRefusal::Inspected { given: shown, expected: fixed });
            return Counts::default();
        }
    };
    let known = |d: &Defects| match (d.kind, d.word.as_deref().map(str::trim)) {
        (Some(kind), None) => characteristic.defect_kinds.iter().any(|k| k.id == kind),
        (None, Some(word)) => !word.is_empty() && word.chars().count() <= NAME_AT_MOST,
        _ => false,
    };
    if typed.defects.len() > 100 || !typed.defects.iter().all(|d| known(d) && (1..=1_000_000).contains(&d.count)) {
        refusals.push(ReadingRefusal::Defects);
        return Counts::default();
    }
    let trimmed = |d: &Defects| Defects { word: d.word.as_ref().map(|word| word.trim().to_owned()), ..d.clone() };
    let counts = Counts { inspected, defects: typed.defects.iter().map(trimmed).collect() };
    if characteristic.kind == Kind::NonconformingUnits && counts.count() > inspected {
        refusals.push(ReadingRefusal::MoreThanInspected { given: counts.count(), inspected });
    }
    counts
}

/// Conforming units since the event before; nothing where its time says all.
fn event(characteristic: &Characteristic, typed: &Typed, refusals: &mut Vec<ReadingRefusal>) -> RareEvent {
    let given = typed.between.as_deref().map(str::trim).unwrap_or_default();
    if characteristic.asks_when() {
        if !given.is_empty() {
            refusals.push(ReadingRefusal::OtherKind);
        }
        return RareEvent::default();
    }
    let between = given.parse::<u32>().ok().filter(|n| *n <= BETWEEN_AT_MOST);
    if between.is_none() {
        refusals.push(ReadingRefusal::Between { given: given.chars().take(NAME_AT_MOST).collect() });
    }
    RareEvent { between: between.map(f64::from) }
}

/// Only what could have been kept was asked about.
fn check_typed_first(characteristic: &Characteristic, typed: &Typed, refusals: &mut Vec<ReadingRefusal>) {
    let expected = if characteristic.kind == Kind::Measured { characteristic.pieces() } else { 0 };
    let given = typed.typed_first.len();
    if given > expected || typed.typed_first.iter().any(|first| !(1..=expected).contains(&first.piece)) {
        refusals.push(ReadingRefusal::WrongCount { given, expected });
        return;
    }
    let refused = typed.typed_first.iter().filter_map(|first| number(characteristic, first.piece, &first.given).err());
    refusals.extend(refused);
}

fn check_kind_and_tags(characteristic: &Characteristic, typed: &Typed, refusals: &mut Vec<ReadingRefusal>) {
    let measured = !typed.readings.is_empty() || !typed.components.is_empty() || !typed.left_out.is_empty();
    let counted = typed.inspected.is_some() || !typed.defects.is_empty();
    let others = match characteristic.kind {
        Kind::Measured => counted || typed.between.is_some(),
        Kind::RareEvent => measured || counted,
        _ => measured || typed.between.is_some(),
    };
    if others {
        refusals.push(ReadingRefusal::OtherKind);
    }
    if !characteristic.parts.is_empty() && characteristic.part(&typed.tags).is_none() {
        let given = typed.tags.get(PART_TAG).map(|name| name.chars().take(NAME_AT_MOST).collect());
        refusals.push(ReadingRefusal::Part { given: given.unwrap_or_default() });
    }
    for (tag, value) in typed.tags.iter() {
        if tag == PART_TAG && !characteristic.parts.is_empty() {
            continue;
        }
        let asked = characteristic.asked_tags.contains(tag);
        if !asked || value.chars().count() > NAME_AT_MOST || value.chars().any(char::is_control) {
            refusals.push(ReadingRefusal::Tag { tag: tag.chars().take(NAME_AT_MOST).collect() });
        }
    }
}
