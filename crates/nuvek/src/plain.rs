//! Characteristics with nothing special about them, as the invented sites begin with.

use quality::characteristic::{Bounds, Characteristic, DefectKind, Kind, Sampling, Specification, Taken, usual_k};
use spc::chart::{ChartKind, ChartOptions};
use spc::rules::{Preset, RuleSet};
use uuid::Uuid;

/// A measured characteristic, by name, unit and decimals; single readings are individuals, more have a mean and a range.
pub fn measured((name, unit, decimals): (&str, &str, u8), pieces: u32, minutes: u32) -> Characteristic {
    Characteristic {
        name: name.into(),
        kind: Kind::Measured,
        unit: unit.into(),
        decimals,
        chart: if pieces == 1 { ChartKind::IMr } else { ChartKind::XbarR },
        options: ChartOptions::default(),
        k: usual_k(),
        subgroup_size: pieces,
        varying: false,
        taken: Taken::Consecutive,
        sampling: Sampling::Minutes { count: minutes },
        rule_set: RuleSet::Preset(Preset::WesternElectric),
        hard_bounds: Bounds::default(),
        soft_bounds: Bounds::default(),
        specification: Specification::default(),
        reaction_plan: vec![],
        escalates_after: 30,
        asked_tags: vec![],
        labels: vec![],
        hidden: false,
        feature: None,
        components: vec![],
        defect_kinds: vec![],
        parts: vec![],
        named_rules: None,
        phase_events: vec![],
        scales: vec![],
        thresholds: Default::default(),
    }
}

/// A counted characteristic, by name and unit, with its catalogue; each kind is counted by the letter given.
pub fn counted(
    (name, unit): (&str, &str),
    (chart, inspected): (ChartKind, u32),
    kinds: &[(char, &str)],
    minutes: u32,
) -> Characteristic {
    let units = Kind::NonconformingUnits.charts().contains(&chart);
    let kind = |&(letter, name): &(char, &str)| DefectKind {
        id: Uuid::new_v5(&Uuid::NAMESPACE_OID, name.as_bytes()),
        name: name.into(),
        letter,
    };
    Characteristic {
        kind: if units { Kind::NonconformingUnits } else { Kind::Nonconformities },
        chart,
        varying: !matches!(chart, ChartKind::Np | ChartKind::C),
        defect_kinds: kinds.iter().map(kind).collect(),
        ..measured((name, unit, 0), inspected, minutes)
    }
}
