//! What is usual of a reading, and what was meant by one that is not.

use quality::characteristic::{Bounds, Characteristic};
use quality::entry::{EntryRefusal, Origin, RECORDED_AT_LEAST, Recorded, Typed, Unusual, Usual, UsualBy, accept};
use rstest::rstest;
use spc::chart::Figures;

use crate::common::{leaks, wall_thickness};

/// Nothing is set about what is usual.
fn unset() -> Characteristic {
    let hard = Bounds { lower: Some(0.0), upper: Some(1000.0) };
    Characteristic { soft_bounds: Bounds::default(), hard_bounds: hard, ..wall_thickness() }
}

/// What is asked about these readings.
fn asked(usual: &Usual, readings: [&str; 3]) -> Vec<Unusual> {
    let typed = Typed { readings: readings.map(str::to_owned).to_vec(), ..Typed::default() };
    match accept(&unset(), usual, &typed, Origin::Hand { confirmed: false }) {
        Ok(_) => vec![],
        Err(EntryRefusal::Unusual(asked)) => asked,
        Err(refused) => panic!("{refused:?}"),
    }
}

#[test]
fn what_was_set_goes_before_limits_and_records() {
    assert!(Usual::set(&wall_thickness()).is_some());
    assert_eq!(Usual::set(&unset()), None, "it has to be looked at");
    assert_eq!(Usual::set(&leaks()), Some(Usual::EVERYTHING), "counts are never asked about");
}

/// Centre 2.5, sigma 0.03: 8 sigma end at 2.26 and 2.74.
#[rstest]
#[case("2.26", false)]
#[case("2.25", true)]
#[case("2.74", false)]
#[case("2.75", true)]
fn a_reading_eight_sigma_from_the_centre_is_asked_about(#[case] reading: &str, #[case] doubted: bool) {
    let usual = Usual::by_limits(&Figures::new(2.5, 0.03 * (1.0 + 1e-12))).unwrap();
    let asked = asked(&usual, ["2.5", reading, "2.51"]);
    assert_eq!(
        asked.iter().map(|u| (u.piece, u.by)).collect::<Vec<_>>(),
        if doubted { vec![(2, UsualBy::Limits)] } else { vec![] }
    );
}

/// Subgroups that differ among each other by more than the pieces within: √(0.03² + 0.04²) = 0.05.
#[test]
fn what_lies_between_subgroups_counts_to_what_is_usual() {
    let usual = Usual::by_limits(&Figures { sigma_between: Some(0.04), ..Figures::new(2.5, 0.03) }).unwrap();
    let asked = asked(&usual, ["2.11", "2.09", "2.91"]);
    assert_eq!(asked.iter().map(|u| u.piece).collect::<Vec<_>>(), [2, 3]);
}

#[rstest]
#[case::counts(Figures::centered(2.5))]
#[case::all_equal(Figures::new(2.5, 0.0))]
#[case::no_center(Figures { center: None, ..Figures::new(2.5, 0.03) })]
fn limits_without_a_spread_say_nothing(#[case] figures: Figures) {
    assert_eq!(Usual::by_limits(&figures), None);
}

/// Recorded from 2.4 to 2.6: usual up to 2.2 and 2.8.
#[rstest]
#[case("2.2", false)]
#[case("2.19", true)]
#[case("2.8", false)]
#[case("9.99", true)]
fn on_trial_what_was_recorded_says_what_is_usual(#[case] reading: &str, #[case] doubted: bool) {
    let recorded = Recorded { least: 2.4, most: 2.6, readings: RECORDED_AT_LEAST };
    let found = asked(&Usual::by_recorded(Some(recorded)), ["2.5", "2.5", reading]);
    assert_eq!(found.len(), usize::from(doubted));
    assert!(found.iter().all(|u| u.by == UsualBy::Recorded));
}

#[rstest]
#[case::nothing(None)]
#[case::too_little(Some(Recorded { least: 2.4, most: 2.6, readings: RECORDED_AT_LEAST - 1 }))]
#[case::all_equal(Some(Recorded { least: 2.4, most: 2.4, readings: 100 }))]
fn too_little_was_recorded_to_tell(#[case] recorded: Option<Recorded>) {
    assert_eq!(asked(&Usual::by_recorded(recorded), ["2.5", "9.99", "700"]), []);
}

/// Usual is 2.2 to 2.8.
#[rstest]
#[case::mark_left_out("251", Some("2.51"))]
#[case::mark_moved("25.1", Some("2.51"))]
#[case::mark_moved_back("0.25", Some("2.5"))]
#[case::comma_stays_a_comma("25,1", Some("2,51"))]
#[case::swapped("5.2", Some("2.5"))]
#[case::typed_twice("22.45", Some("2.45"))]
#[case::nearest_to_the_middle("25.5", Some("2.55"))]
#[case::no_slip("9.99", None)]
#[case::none_of_zeros("0", None)]
fn the_likely_slip_is_offered(#[case] reading: &str, #[case] meant: Option<&str>) {
    let usual = Usual::by_limits(&Figures::new(2.5, 0.0375)).unwrap();
    let asked = asked(&usual, ["2.5", reading, "2.5"]);
    assert_eq!(asked.iter().map(|u| (u.piece, u.likely.as_deref())).collect::<Vec<_>>(), [(2, meant)]);
}

/// What the characteristic does not take is no answer to the question.
#[test]
fn an_offer_can_be_entered() {
    let usual = Usual::by_limits(&Figures::new(2.5, 0.0375)).unwrap();
    let asked = asked(&usual, ["2.5", "245.5", "2.5"]);
    assert_eq!(asked[0].likely, None, "2.455 has more decimals than the unit");
}
