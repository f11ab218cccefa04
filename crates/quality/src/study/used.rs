//! The samples and values of a selection that an answer rests on.

use std::collections::HashMap;

use serde::Serialize;

use super::selection::{Picked, Selection};
use super::split::{GROUPS_AT_MOST, Group, Split};
use crate::place::Place;
use crate::sample::Plotted;

impl Selection {
    /// Whether a sample there is used.
    pub(super) fn uses(&self, place: &Place) -> bool {
        self.set_aside || !place.aside
    }

    /// The values that are used, sorted.
    pub(super) fn values(&self, picked: &[Picked]) -> Vec<f64> {
        let used = picked.iter().filter(|one| self.uses(&one.place));
        let mut values: Vec<f64> = used.flat_map(|one| values_of(&one.place)).copied().collect();
        values.sort_unstable_by(f64::total_cmp);
        values
    }

    /// How many samples are used.
    pub(super) fn extent(&self, picked: &[Picked]) -> Extent {
        let used = |one: &&Picked| self.uses(&one.place);
        Extent {
            samples: picked.iter().filter(used).filter(|one| !one.place.plotted.point().is_gap()).count(),
            set_aside: picked.iter().filter(|one| !self.uses(&one.place)).count(),
            numbers: (picked.first().map_or(0, |one| one.number), picked.last().map_or(0, |one| one.number)),
        }
    }
}

/// How many samples an answer rests on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Extent {
    /// Samples used.
    pub samples: usize,
    /// Samples of the selection that are set aside and left out.
    pub set_aside: usize,
    /// Number of the first and the last sample of the selection.
    pub numbers: (i64, i64),
}

pub(super) fn values_of(place: &Place) -> &[f64] {
    if let Plotted::Values(values) = &place.plotted { values } else { &[] }
}

/// Parts of the samples, the largest where there are too many: in the order of their first sample, or of their names
/// where they come by turns.
pub(super) fn groups(picked: &[Picked], split: Option<&Split>) -> Vec<(Group, Vec<Picked>)> {
    let mut found: Vec<(Group, Vec<Picked>)> = vec![];
    let mut known: HashMap<&str, usize> = HashMap::new();
    for one in picked {
        let Some(name) = &one.group else { continue };
        let at = *known.entry(name).or_insert(found.len());
        if at == found.len() {
            found.push((Group { name: name.clone(), numbers: (one.number, one.number) }, vec![]));
        }
        let (group, part) = &mut found[at];
        group.numbers.1 = one.number;
        part.push(one.clone());
    }
    if found.len() > GROUPS_AT_MOST {
        found.sort_by_key(|(_, part)| std::cmp::Reverse(part.len()));
        found.truncate(GROUPS_AT_MOST);
        found.sort_by_key(|(group, _)| group.numbers.0);
    }
    if matches!(split, Some(Split::Shift | Split::Tag { .. })) {
        found.sort_by(|(a, _), (b, _)| a.name.cmp(&b.name));
    }
    found
}
