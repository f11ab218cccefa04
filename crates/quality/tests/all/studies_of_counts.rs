//! Defects by kind, and what rules and sampling plans see.

use std::collections::BTreeMap;

use quality::study::{
    Counted, DefectsAnswer, DefectsQuestion, Design, DesignRules, Question, RuleSetsQuestion, Selection, StudyRefusal,
    defects, rule_sets,
};
use rstest::rstest;
use spc::rules::{Preset, RuleSet};
use spc::sampling::SamplingPlan;
use uuid::Uuid;

use crate::common::{leaks, wall_thickness};

fn question() -> DefectsQuestion {
    DefectsQuestion {
        of: Selection::of(Uuid::nil()),
        against: None,
        weights: BTreeMap::new(),
        pool_below: None,
        split: None,
    }
}

fn counted(inspected: u64, kinds: &[(&str, u64)]) -> Counted {
    Counted {
        samples: 10,
        set_aside: 1,
        inspected,
        count: kinds.iter().map(|(_, count)| count).sum(),
        kinds: kinds.iter().map(|(name, count)| ((*name).to_owned(), *count)).collect(),
    }
}

fn many() -> Counted {
    counted(1000, &[("Wall", 20), ("End cap", 20), ("Thread", 5), ("Gasket", 3), ("Lid", 2)])
}

fn names(answer: &DefectsAnswer) -> Vec<Option<&str>> {
    answer.bars.iter().map(|bar| bar.name.as_deref()).collect()
}

#[test]
fn kinds_are_sorted_and_ties_keep_the_order_of_the_catalogue() {
    let answer = defects(&question(), &leaks(), &many(), None, vec![]).unwrap();
    assert_eq!(names(&answer), [Some("End cap"), Some("Wall"), Some("Thread"), Some("Gasket"), Some("Lid")]);
    assert_eq!(answer.bars[0].share, 0.4);
    assert_eq!(answer.bars[0].rate, 0.02);
    assert_eq!(answer.bars[4].cumulative, 1.0);
    let few = answer.few.unwrap();
    assert_eq!((few.kinds, few.share), (2, 0.8));
    assert_eq!((answer.totals.count, answer.totals.set_aside, answer.totals.rate), (50, 1, 0.05));
}

#[test]
fn small_kinds_stand_together_at_the_end() {
    let pooled = DefectsQuestion { pool_below: Some(0.1), ..question() };
    let parts = vec![("W1".to_owned(), counted(500, &[("Gasket", 2), ("Lid", 1), ("Wall", 4)]))];
    let answer = defects(&pooled, &leaks(), &many(), None, parts).unwrap();
    assert_eq!(names(&answer), [Some("End cap"), Some("Wall"), Some("Thread"), None]);
    assert_eq!((answer.bars[3].kinds, answer.bars[3].count), (2, 5));
    // A part has its counts in the order of the bars, those of the small kinds together.
    assert_eq!(answer.groups[0].counts, [0, 4, 0, 3]);
    let one = DefectsQuestion { pool_below: Some(0.05), ..question() };
    let answer = defects(&one, &leaks(), &many(), None, vec![]).unwrap();
    assert_eq!((names(&answer).pop(), answer.bars.last().map(|bar| bar.kinds)), (Some(None), Some(1)));
}

#[test]
fn weights_change_the_order() {
    let weighted = DefectsQuestion { weights: BTreeMap::from([("Lid".to_owned(), 50.0)]), ..question() };
    let answer = defects(&weighted, &leaks(), &many(), None, vec![]).unwrap();
    assert_eq!((names(&answer)[0], answer.bars[0].count, answer.bars[0].weighted), (Some("Lid"), 2, 100.0));
    assert!(answer.weighted);
}

#[test]
fn rates_are_held_against_those_of_other_samples() {
    let there = counted(2000, &[("Wall", 10), ("End cap", 41), ("Foot", 8)]);
    let answer = defects(&question(), &leaks(), &many(), Some(&there), vec![]).unwrap();
    let of = |name: &str| answer.bars.iter().find(|bar| bar.name.as_deref() == Some(name)).unwrap().against.unwrap();
    // 20 in 1000 against 10 in 2000.
    assert_eq!(of("Wall").ratio.estimate.value, Some(4.0));
    assert!(of("Wall").ratio.beyond_chance && !of("End cap").ratio.beyond_chance);
    // A kind that was found there alone is told, too.
    assert_eq!((of("Foot").count, of("Foot").ratio.estimate.value), (8, Some(0.0)));
    assert_eq!(of("Thread").ratio.estimate.value, None);
    assert_eq!(answer.against.unwrap().count, 59);
}

#[rstest]
#[case::measured(wall_thickness(), many(), StudyRefusal::OtherKind)]
#[case::nothing(leaks(), Counted::default(), StudyRefusal::NoSamples)]
fn no_kinds_say_why(
    #[case] of: quality::characteristic::Characteristic,
    #[case] counted: Counted,
    #[case] refusal: StudyRefusal,
) {
    assert_eq!(defects(&question(), &of, &counted, None, vec![]).unwrap_err(), refusal);
}

#[test]
fn samples_without_a_defect_are_an_answer() {
    let answer = defects(&question(), &leaks(), &counted(300, &[]), None, vec![]).unwrap();
    assert_eq!((answer.bars.len(), answer.few, answer.totals.count), (0, None, 0));
}

#[rstest]
#[case::weight(DefectsQuestion { weights: BTreeMap::from([("Lid".to_owned(), -1.0)]), ..question() }, "weights")]
#[case::pool(DefectsQuestion { pool_below: Some(1.5), ..question() }, "pool_below")]
fn a_question_of_defects_is_refused_by_its_field(#[case] question: DefectsQuestion, #[case] field: &str) {
    assert_eq!(Question::Defects(question).check().unwrap_err().field, field);
}

fn design(name: &str, pieces: usize, interval_minutes: f64) -> Design {
    let rules = DesignRules::Preset { preset: Preset::LimitsOnly };
    Design { name: name.into(), rules, k: 3.0, plan: SamplingPlan { pieces, interval_minutes } }
}

#[test]
fn limits_alone_see_what_the_formula_says() {
    let designs = vec![design("one", 1, 60.0), design("four", 4, 30.0)];
    let question = RuleSetsQuestion { of: None, designs };
    let rules = vec![RuleSet::Preset(Preset::LimitsOnly); 2];
    let answer = rule_sets(&question, &rules).unwrap();
    // 1/(Φ(−2) + Φ(−4)) samples at a shift of one sigma; two sigma of the mean of four.
    let [one, four] = answer.designs.as_slice() else { panic!("{answer:?}") };
    let at_one = |design: &quality::study::DesignSees| *design.sees.iter().find(|seen| seen.shift == 1.0).unwrap();
    assert!((at_one(one).arl - 43.895).abs() < 0.01, "{one:?}");
    assert!((at_one(four).arl - 6.303).abs() < 0.001, "{four:?}");
    assert!((at_one(four).minutes - (at_one(four).arl - 0.5) * 30.0).abs() < 1e-9);
    assert!((one.days_between - 370.398 / 24.0).abs() < 1e-3 && (one.pieces_per_day - 24.0).abs() < 1e-12);
    assert!((four.false_alarms_per_day - 48.0 / 370.398).abs() < 1e-6);
    assert!(four.sees.windows(2).all(|pair| pair[1].arl <= pair[0].arl));
}

#[rstest]
#[case::none(vec![], "designs")]
#[case::no_name(vec![design(" ", 1, 60.0)], "name")]
#[case::own(vec![Design { rules: DesignRules::Own, ..design("a", 1, 60.0) }], "of")]
#[case::k(vec![Design { k: 0.0, ..design("a", 1, 60.0) }], "k")]
#[case::pieces(vec![design("a", 0, 60.0)], "plan.pieces")]
#[case::minutes(vec![design("a", 1, 0.5)], "plan.interval_minutes")]
fn a_question_of_rules_is_refused_by_its_field(#[case] designs: Vec<Design>, #[case] field: &str) {
    assert_eq!(Question::RuleSets(RuleSetsQuestion { of: None, designs }).check().unwrap_err().field, field);
}
