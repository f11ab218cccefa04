//! Whether a characteristic can be set up as it is given.

use serde::Serialize;

use crate::characteristic::{Bounds, Characteristic, Kind, Sampling};
use spc::chart::ChartKind;

/// A field that cannot be as it is given.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
pub struct Wrong {
    /// Its name.
    pub field: &'static str,
    /// What is allowed.
    pub expected: &'static str,
}

/// Longest name, unit, tag or word of a catalogue.
pub const NAME_AT_MOST: usize = 80;

/// Kinds of defects a catalogue can hold: more cannot be tapped.
pub const DEFECT_KINDS_AT_MOST: usize = 24;

/// Letters that act on the tally itself and can count no kind: `O` counts other defects, `U` undoes.
pub const LETTERS_TAKEN: [char; 2] = ['O', 'U'];

fn is_name(text: &str) -> bool {
    !text.trim().is_empty() && text.chars().count() <= NAME_AT_MOST && !text.chars().any(char::is_control)
}

fn all_unlike<T: PartialEq>(all: &[T]) -> bool {
    all.iter().enumerate().all(|(i, one)| !all[..i].contains(one))
}

fn in_order(figures: &[Option<f64>]) -> bool {
    let given: Vec<f64> = figures.iter().copied().flatten().collect();
    given.iter().all(|x| x.is_finite()) && given.windows(2).all(|pair| pair[0] < pair[1])
}

impl Characteristic {
    /// Everything that is wrong with it, field by field; empty when it can be set up.
    pub fn wrong(&self) -> Vec<Wrong> {
        let counts = self.kind != Kind::Measured;
        let bounds = |b: &Bounds| in_order(&[b.lower, b.upper]);
        let is_list = |list: &[String]| list.len() <= 20 && list.iter().all(|n| is_name(n)) && all_unlike(list);
        let sampling_holds = match self.sampling {
            Sampling::Minutes { count } => (1..=100_000).contains(&count),
            Sampling::Pieces { count } => (1..=10_000_000).contains(&count),
            Sampling::Lot | Sampling::Shift => true,
        };
        let spec = &self.specification;
        let kinds: Vec<&str> = self.defect_kinds.iter().map(|kind| kind.name.trim()).collect();
        let letters: Vec<char> = self.defect_kinds.iter().map(|kind| kind.letter).collect();
        let most = if counts { 1_000_000 } else { 200 };
        [
            ("name", is_name(&self.name), "a name of 1 to 80 characters"),
            ("unit", is_name(&self.unit), "a unit of 1 to 80 characters"),
            ("decimals", self.decimals <= if counts { 0 } else { 9 }, "0 to 9; 0 for counts"),
            ("chart", self.kind.charts().contains(&self.chart), "a chart for this kind of data"),
            ("chart", (self.chart == ChartKind::IMr) == (self.pieces() == 1), "individuals for single readings only"),
            ("chart", !(self.varying && self.constant_only()), "p or u where the number inspected varies"),
            ("varying", counts || !self.varying, "a fixed number of pieces for measured values"),
            (
                "subgroup_size",
                (1..=most).contains(&self.subgroup_size),
                "1 to 200 pieces, or 1 to 1,000,000 units inspected",
            ),
            ("sampling", sampling_holds, "1 to 100,000 minutes, 1 to 10,000,000 pieces, each lot or each shift"),
            ("hard_bounds", bounds(&self.hard_bounds), "a lower bound below the upper one"),
            ("soft_bounds", bounds(&self.soft_bounds), "a lower bound below the upper one"),
            ("specification", in_order(&[spec.lsl, spec.target, spec.usl]), "LSL below target below USL"),
            ("rule_set", self.rule_set.check("rule_set").is_ok(), "rules within their bounds"),
            (
                "reaction_plan",
                self.reaction_plan.len() <= 20
                    && self.reaction_plan.iter().all(|step| (1..=500).contains(&step.trim().chars().count())),
                "at most 20 steps of 1 to 500 characters",
            ),
            ("asked_tags", !self.asked_tags.iter().any(|tag| tag == "shift"), "no shift: the calendar says it"),
            ("asked_tags", is_list(&self.asked_tags), "at most 20 names, each once"),
            ("labels", is_list(&self.labels), "at most 20 words, each once"),
            ("components", is_list(&self.components), "at most 20 names, each once"),
            ("feature", self.feature.as_deref().is_none_or(is_name), "a name of 1 to 80 characters"),
            ("components", !counts || self.components.is_empty(), "none for counts"),
            ("defect_kinds", counts || kinds.is_empty(), "none for measured values"),
            (
                "defect_kinds",
                kinds.len() <= DEFECT_KINDS_AT_MOST && kinds.iter().all(|name| is_name(name)) && all_unlike(&kinds),
                "at most 24 names, each once",
            ),
            (
                "defect_kinds",
                letters.iter().all(|l| l.is_ascii_uppercase() && !LETTERS_TAKEN.contains(l)) && all_unlike(&letters),
                "a letter of its own for each kind, A to Z without O and U",
            ),
        ]
        .into_iter()
        .filter(|(_, holds, _)| !holds)
        .map(|(field, _, expected)| Wrong { field, expected })
        .collect()
    }

    /// Its chart means a constant number inspected.
    fn constant_only(&self) -> bool {
        matches!(self.chart, ChartKind::Np | ChartKind::C)
    }

    /// What cannot change once there are samples: old points would mean something else.
    pub fn keeps_its_data(&self, before: &Self) -> bool {
        self.kind == before.kind
            && self.pieces() == before.pieces()
            && self.unit == before.unit
            && self.components == before.components
            && before.defect_kinds.iter().all(|kind| self.defect_kinds.iter().any(|k| k.id == kind.id))
            // A c chart takes no notice of the area, so the area may not change behind it.
            && (self.chart != ChartKind::C || self.subgroup_size == before.subgroup_size && !before.varying)
    }
}
