//! Whether a characteristic can be set up as it is given.

use spc::chart::ChartKind;
use thiserror::Error;

use crate::characteristic::{Bounds, Characteristic, Kind, Sampling};
use crate::field::{Allowed, LIST_AT_MOST, NAME, WrongField, all_unlike, broken, is_name};
use crate::part::{PART_TAG, Part};
use crate::scale::SCALES_AT_MOST;

/// Why a set-up is refused.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum SetUpRefusal {
    /// Fields that cannot be as they are given, all at once.
    #[error("{} fields are refused", .0.len())]
    Fields(Vec<WrongField>),
    /// One field that cannot be as it is given.
    #[error(transparent)]
    Field(#[from] WrongField),
    /// Old points would mean something else.
    #[error("kind of data, pieces, unit, components, counted kinds and parts stay as they are once there are samples")]
    HasSamples,
    /// There is another of that name, or of that badge number.
    #[error("the {0} is taken")]
    Taken(&'static str),
}

/// Kinds of defects a catalogue can hold: more cannot be tapped.
pub const DEFECT_KINDS_AT_MOST: usize = 24;

/// Letters that act on the tally itself and can count no kind: `O` counts other defects, `U` undoes.
pub const LETTERS_TAKEN: [char; 2] = ['O', 'U'];

/// Parts of a short run at most: more are not chosen from a list.
const PARTS_AT_MOST: usize = 200;

/// The unit of times between events.
pub const HOURS: &str = "h";

/// Minutes from one sample to the next at most.
const MINUTES_AT_MOST: u32 = 100_000;

/// Longest time that an episode waits for an answer, in minutes: a day.
const ESCALATES_AT_MOST: u32 = 24 * 60;

/// Pieces from one sample to the next at most.
const PIECES_AT_MOST: u32 = 10_000_000;

/// Widest moving average, in points: a save sums its window.
const WIDEST: usize = 1000;

/// Numbers of a set-up at most.
const LARGEST: f64 = 1e15;

/// Characters of a step of a reaction plan at most.
const STEP_AT_MOST: usize = 500;

fn in_order(figures: &[Option<f64>]) -> bool {
    let given: Vec<f64> = figures.iter().copied().flatten().collect();
    given.iter().all(|x| x.is_finite()) && given.windows(2).all(|pair| pair[0] < pair[1])
}

impl Characteristic {
    /// Whether it can be set up.
    ///
    /// # Errors
    /// Everything that is wrong with it, field by field.
    pub fn check(&self) -> Result<(), SetUpRefusal> {
        let wrong = self.wrong();
        if wrong.is_empty() { Ok(()) } else { Err(SetUpRefusal::Fields(wrong)) }
    }

    fn wrong(&self) -> Vec<WrongField> {
        let counts = self.kind != Kind::Measured;
        let bounds = |b: &Bounds| in_order(&[b.lower, b.upper]);
        let is_list =
            |list: &[String]| list.len() <= LIST_AT_MOST && list.iter().all(|n| is_name(n)) && all_unlike(list);
        let sampling_holds = match self.sampling {
            Sampling::Minutes { count } => (1..=MINUTES_AT_MOST).contains(&count),
            Sampling::Pieces { count } => (1..=PIECES_AT_MOST).contains(&count),
            Sampling::Lot | Sampling::Shift => true,
            Sampling::Never => false,
        };
        let rare = self.kind == Kind::RareEvent;
        let parts: Vec<&str> = self.parts.iter().map(|part| part.name.trim()).collect();
        let number = |x: f64| x.abs() <= LARGEST;
        let part_holds = |part: &Part| {
            is_name(&part.name)
                && part.name.trim() == part.name
                && number(part.nominal)
                && part.sigma.is_none_or(|sigma| sigma > 0.0 && number(sigma))
        };
        let parts_hold = parts.len() <= PARTS_AT_MOST && all_unlike(&parts) && self.parts.iter().all(part_holds);
        let scaled: Vec<_> = self.scales.iter().map(|scale| scale.panel).collect();
        let scales_hold = scaled.len() <= SCALES_AT_MOST
            && all_unlike(&scaled)
            && self.scales.iter().all(|scale| scale.holds(LARGEST));
        let spec = &self.specification;
        let kinds: Vec<&str> = self.defect_kinds.iter().map(|kind| kind.name.trim()).collect();
        let letters: Vec<char> = self.defect_kinds.iter().map(|kind| kind.letter).collect();
        let (decimals, pieces) = match self.kind {
            Kind::Measured => (9, 200),
            Kind::RareEvent => (2, 1),
            _ => (0, 1_000_000),
        };
        let is_step = |step: &String| (1..=STEP_AT_MOST).contains(&step.trim().chars().count());
        let plan_holds = self.reaction_plan.len() <= LIST_AT_MOST && self.reaction_plan.iter().all(is_step);
        let kinds_hold =
            kinds.len() <= DEFECT_KINDS_AT_MOST && kinds.iter().all(|name| is_name(name)) && all_unlike(&kinds);
        let is_letter = |letter: &char| letter.is_ascii_uppercase() && !LETTERS_TAKEN.contains(letter);
        let names = Allowed::Names { most: LIST_AT_MOST };
        let options = &self.options;
        let pieces_fit = match self.chart {
            ChartKind::IMr => self.pieces() == 1,
            ChartKind::XbarR | ChartKind::XbarS | ChartKind::MedianR | ChartKind::BetweenWithin => self.pieces() != 1,
            _ => true,
        };
        let of_shares = matches!(self.chart, ChartKind::P | ChartKind::PPrime);
        let positive = |x: f64| x > 0.0 && x <= LARGEST;
        let spread = Allowed::Positive { most: LARGEST };
        let mut wrong = broken([
            ("name", is_name(&self.name), NAME),
            ("unit", is_name(&self.unit), NAME),
            ("decimals", self.decimals <= decimals, Allowed::Whole { least: 0, most: decimals.into() }),
            ("chart", self.kind.charts().contains(&self.chart), Allowed::ChartOfTheKind),
            ("chart", pieces_fit, Allowed::IndividualsForSingleReadings),
            ("chart", !(self.varying && self.constant_only()), Allowed::SharesOrRates),
            ("k", positive(self.k), spread),
            ("options.span", (2..=10).contains(&options.span), Allowed::Whole { least: 2, most: 10 }),
            ("options.lambda", options.lambda > 0.0 && options.lambda <= 1.0, Allowed::Positive { most: 1.0 }),
            ("options.width", (1..=WIDEST).contains(&options.width), Allowed::Whole { least: 1, most: 1000 }),
            ("options.kappa", options.kappa == 0.0 || positive(options.kappa), spread),
            ("options.h", positive(options.h), spread),
            ("options.target", options.target.is_none_or(f64::is_finite), Allowed::Number { size: LARGEST }),
            ("options.conforming", !options.conforming || of_shares, Allowed::ConformingOfShares),
            ("options.mean_size", !options.mean_size || counts && !rare, Allowed::StraightForCounts),
            ("options.nominal", options.nominal.is_none() && options.part_sigma.is_none(), Allowed::NominalsOfParts),
            ("varying", counts && !rare || !self.varying, Allowed::FixedNumber),
            ("unit", !self.asks_when() || self.unit.trim() == HOURS, Allowed::Hours),
            ("subgroup_size", (1..=pieces).contains(&self.subgroup_size), Allowed::Whole { least: 1, most: pieces }),
            ("sampling", rare == (self.sampling == Sampling::Never), Allowed::NeverForRareEvents),
            (
                "sampling",
                rare || sampling_holds,
                Allowed::Sampling { minutes: MINUTES_AT_MOST, pieces: PIECES_AT_MOST },
            ),
            ("hard_bounds", bounds(&self.hard_bounds), Allowed::LowerBelowUpper),
            ("soft_bounds", bounds(&self.soft_bounds), Allowed::LowerBelowUpper),
            ("specification", in_order(&[spec.lsl, spec.target, spec.usl]), Allowed::LslBelowTargetBelowUsl),
            ("rule_set", self.rule_set.check("rule_set").is_ok(), Allowed::RulesWithinBounds),
            ("reaction_plan", plan_holds, Allowed::Texts { most: LIST_AT_MOST, characters: STEP_AT_MOST }),
            (
                "escalates_after",
                (1..=ESCALATES_AT_MOST).contains(&u32::from(self.escalates_after)),
                Allowed::Whole { least: 1, most: ESCALATES_AT_MOST },
            ),
            ("asked_tags", !self.asked_tags.iter().any(|tag| tag == "shift"), Allowed::NoShift),
            ("asked_tags", !self.asked_tags.iter().any(|tag| tag == PART_TAG), Allowed::NoPart),
            ("asked_tags", is_list(&self.asked_tags), names),
            ("labels", is_list(&self.labels), names),
            ("components", is_list(&self.components), names),
            ("feature", self.feature.as_deref().is_none_or(is_name), NAME),
            ("components", !counts || self.components.is_empty(), Allowed::NothingForCounts),
            ("defect_kinds", counts && !rare || kinds.is_empty(), Allowed::NothingForMeasuredValues),
            ("parts", !counts || self.parts.is_empty(), Allowed::NothingForCounts),
            ("phase_events", self.phase_events.len() <= LIST_AT_MOST && all_unlike(&self.phase_events), names),
            ("parts", parts_hold, Allowed::Parts { most: PARTS_AT_MOST }),
            ("scales", scales_hold, Allowed::Scales { most: SCALES_AT_MOST }),
            ("defect_kinds", kinds_hold, Allowed::Names { most: DEFECT_KINDS_AT_MOST }),
            ("defect_kinds", letters.iter().all(is_letter) && all_unlike(&letters), Allowed::OwnLetters),
        ]);
        wrong.extend(self.thresholds.wrong());
        wrong
    }

    /// Whether it can become `new`, which it may have samples for.
    ///
    /// # Errors
    /// When old points would mean something else.
    pub fn may_become(&self, new: &Self, sampled: bool) -> Result<(), SetUpRefusal> {
        if sampled && !new.keeps_its_data(self) { Err(SetUpRefusal::HasSamples) } else { Ok(()) }
    }

    /// Its chart means a constant number inspected.
    fn constant_only(&self) -> bool {
        matches!(self.chart, ChartKind::Np | ChartKind::C)
    }

    /// What cannot change once there are samples: old points would mean something else.
    fn keeps_its_data(&self, before: &Self) -> bool {
        self.kind == before.kind
            && self.pieces() == before.pieces()
            && self.unit == before.unit
            && self.components == before.components
            && (self.kind != Kind::RareEvent || self.chart == before.chart)
            && before.parts.is_empty() == self.parts.is_empty()
            && before.parts.iter().all(|part| self.parts.contains(part))
            && before.defect_kinds.iter().all(|kind| self.defect_kinds.iter().any(|k| k.id == kind.id))
            // A c chart takes no notice of the area, so the area may not change behind it.
            && (self.chart != ChartKind::C || self.subgroup_size == before.subgroup_size && !before.varying)
    }
}
