//! What is measured and counted at the site.

use quality::characteristic::{Bounds, Characteristic, Kind, Sampling, Specification};
use quality::part::Part;
use spc::chart::ChartKind;
use spc::rules::{Preset, RuleSet};

use super::process::Process;
use crate::plain;

/// A characteristic, where it belongs, and its process.
pub struct Row {
    /// Which station, in the order of the line.
    pub station: usize,
    pub product: usize,
    pub characteristic: Characteristic,
    pub process: Process,
}

const SLIP: usize = 0;
const SMALL: usize = 1;
const LARGE: usize = 2;

fn bounds(lower: f64, upper: f64) -> Bounds {
    Bounds { lower: Some(lower), upper: Some(upper) }
}

fn spec(lsl: Option<f64>, target: Option<f64>, usl: Option<f64>) -> Specification {
    Specification { lsl, target, usl }
}

fn words(words: &[&str]) -> Vec<String> {
    words.iter().map(|word| (*word).to_owned()).collect()
}

fn measured(name: &str, unit: &str, decimals: u8, pieces: u32, process: &Process) -> Characteristic {
    plain::measured((name, unit, decimals), pieces, process.minutes.unsigned_abs() as u32)
}

fn counted(name: &str, chart: ChartKind, inspected: u32, kinds: &[(char, &str)], process: &Process) -> Characteristic {
    plain::counted((name, "cartridges"), (chart, inspected), kinds, process.minutes.unsigned_abs() as u32)
}

/// Every characteristic of the floor.
pub fn rows() -> Vec<Row> {
    let casting = words(&[
        "Measure one more cartridge from the same mould.",
        "Look at the mould for wear and at the slip tank for settling.",
        "Hold the tray until a sample is back within limits.",
    ]);
    let kiln = words(&["Compare with the second thermocouple.", "Look at the burner flame.", "Call the kiln foreman."]);
    let wet = words(&["Stir the tank for ten minutes and measure again.", "Check the water dosing."]);
    let bench = words(&["Zero the gauge and test the same cartridge again.", "Set the tray aside and mark it."]);
    let counting = words(&["Look at the last pieces again under the lamp.", "Tell the station that made them."]);
    let wall = |soft, specification, process: &Process| Characteristic {
        hard_bounds: bounds(1.0, 15.0),
        soft_bounds: soft,
        specification,
        reaction_plan: casting.clone(),
        escalates_after: 30,
        asked_tags: words(&["mould"]),
        labels: words(&["wall"]),
        ..measured("Wall thickness", "mm", 2, 5, process)
    };
    let mut rows = Vec::new();
    let mut add = |station, product, process: Process, make: &dyn Fn(&Process) -> Characteristic| {
        rows.push(Row { station, product, characteristic: make(&process), process });
    };
    add(0, SLIP, Process::one_bad_sample(), &|process| Characteristic {
        sampling: Sampling::Lot,
        hard_bounds: bounds(50.0, 900.0),
        soft_bounds: bounds(250.0, 420.0),
        specification: spec(Some(280.0), None, Some(390.0)),
        reaction_plan: wet.clone(),
        escalates_after: 30,
        asked_tags: words(&["lot"]),
        ..measured("Viscosity", "mPa·s", 0, 1, process)
    });
    add(1, SMALL, Process::new_clay_lot(), &|process| {
        wall(bounds(5.6, 6.8), spec(Some(5.8), Some(6.2), Some(6.7)), process)
    });
    add(2, LARGE, Process::tool_wear(), &|process| {
        wall(bounds(7.2, 8.6), spec(Some(7.4), Some(7.9), Some(8.4)), process)
    });
    add(2, LARGE, Process::pinholes(), &|process| Characteristic {
        reaction_plan: counting.clone(),
        escalates_after: 30,
        ..counted("Pinholes", ChartKind::C, 10, &[('B', "Bubble"), ('D', "Dust"), ('R', "Rim")], process)
    });
    add(3, SMALL, Process::sent_back(), &|process| Characteristic {
        hard_bounds: bounds(700.0, 1400.0),
        soft_bounds: bounds(1080.0, 1160.0),
        reaction_plan: kiln.clone(),
        escalates_after: 30,
        ..measured("Peak temperature", "°C", 0, 1, process)
    });
    add(3, SMALL, Process::waiting_for_review(), &|process| Characteristic {
        hard_bounds: bounds(0.0, 30.0),
        soft_bounds: bounds(10.5, 13.5),
        specification: spec(Some(10.8), Some(12.0), Some(13.2)),
        reaction_plan: kiln.clone(),
        escalates_after: 30,
        ..measured("Firing shrinkage", "%", 2, 4, process)
    });
    add(3, SMALL, Process::cracked(), &|process| Characteristic {
        sampling: Sampling::Shift,
        reaction_plan: kiln.clone(),
        escalates_after: 30,
        ..counted(
            "Cracked after firing",
            ChartKind::Np,
            200,
            &[('R', "Rim crack"), ('W', "Wall crack"), ('F', "Foot crack")],
            process,
        )
    });
    add(3, SMALL, Process::burner_trips(), &|process| Characteristic {
        kind: Kind::RareEvent,
        chart: ChartKind::T,
        decimals: 1,
        sampling: Sampling::Never,
        rule_set: RuleSet::Preset(Preset::LimitsOnly),
        reaction_plan: kiln.clone(),
        escalates_after: 30,
        ..measured("Burner trips", "h", 1, 1, process)
    });
    add(4, SMALL, Process::small_orders(), &|process| Characteristic {
        hard_bounds: bounds(0.0, 60.0),
        parts: [("Collar 8", 8.2), ("Collar 20", 20.4), ("Collar 40", 40.6)]
            .map(|(name, nominal)| Part { name: name.into(), nominal, sigma: None })
            .to_vec(),
        reaction_plan: bench.clone(),
        escalates_after: 30,
        ..measured("Collar height", "mm", 2, 3, process)
    });
    add(4, SMALL, Process::stale_limits(), &|process| Characteristic {
        sampling: Sampling::Shift,
        hard_bounds: bounds(0.0, 2.0),
        soft_bounds: bounds(0.0, 0.3),
        specification: spec(None, None, Some(0.25)),
        feature: Some("Cap bore".into()),
        components: words(&["X", "Y"]),
        reaction_plan: bench.clone(),
        escalates_after: 30,
        ..measured("Cap position", "mm", 3, 1, process)
    });
    add(4, SMALL, Process::explained(), &|process| Characteristic {
        hard_bounds: bounds(0.0, 20.0),
        specification: spec(Some(4.5), Some(4.8), Some(5.1)),
        reaction_plan: bench.clone(),
        escalates_after: 30,
        ..measured("Bead weight", "g", 2, 3, process)
    });
    add(5, SMALL, Process::one_open(), &|process| Characteristic {
        hard_bounds: bounds(0.0, 3000.0),
        soft_bounds: bounds(700.0, 1000.0),
        specification: spec(Some(740.0), None, None),
        reaction_plan: bench.clone(),
        escalates_after: 30,
        ..measured("Flow rate", "mL/min", 0, 3, process)
    });
    add(5, LARGE, Process::on_trial(), &|process| Characteristic {
        hard_bounds: bounds(0.0, 60.0),
        soft_bounds: bounds(14.0, 26.0),
        specification: spec(Some(15.0), None, None),
        reaction_plan: bench.clone(),
        escalates_after: 30,
        ..measured("Burst pressure", "bar", 1, 2, process)
    });
    add(5, SMALL, Process::leaking_caps(), &|process| Characteristic {
        reaction_plan: counting.clone(),
        escalates_after: 30,
        asked_tags: words(&["lot"]),
        ..counted(
            "Leak-test failures",
            ChartKind::P,
            50,
            &[('E', "End cap"), ('W', "Wall"), ('T', "Thread"), ('G', "Gasket")],
            process,
        )
    });
    add(6, SMALL, Process::cosmetic(), &|process| Characteristic {
        sampling: Sampling::Pieces { count: 500 },
        reaction_plan: counting.clone(),
        escalates_after: 30,
        ..counted(
            "Cosmetic defects",
            ChartKind::U,
            60,
            &[('S', "Stain"), ('C', "Chip"), ('K', "Scratch"), ('L', "Label askew"), ('D', "Dent")],
            process,
        )
    });
    rows
}
