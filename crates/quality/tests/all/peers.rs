//! What is given to peer groups, where it stands, and how it compares.

use chrono::{DateTime, NaiveDate, Utc};
use quality::peer::beside::{Distance, OwnResult, Told, beside};
use quality::peer::given::{GivenState, Standing};
use quality::peer::group::{PeerGroup, PeerLevel, token};
use quality::peer::statistic::{Month, PeerStatistic, WrongStatistic};
use rstest::rstest;
use uuid::Uuid;

/// Relative: sums of a few terms, told in doubles.
const RELATIVE: f64 = 1e-12;

fn close(value: f64, expected: f64) -> bool {
    (value - expected).abs() <= RELATIVE * expected.abs()
}

fn group(levels: &[(u128, &str)]) -> PeerGroup {
    let level = |&(id, code): &(u128, &str)| PeerLevel { characteristic: Uuid::from_u128(id), code: code.to_owned() };
    PeerGroup {
        name: " Fell and Tarn ".into(),
        laboratory: "Laboratory 17".into(),
        url: Some("http://peers.example/compare".into()),
        levels: levels.iter().map(level).collect(),
        since: DateTime::UNIX_EPOCH,
        active: true,
    }
}

#[test]
fn a_group_is_kept_trimmed_and_its_levels_in_one_order() {
    let kept = group(&[(2, " AG-2 "), (1, "AG-1")]).accept().unwrap();
    assert_eq!(kept.name, "Fell and Tarn");
    assert_eq!(kept, PeerGroup { name: "Fell and Tarn".into(), ..group(&[(1, "AG-1"), (2, "AG-2")]) });
    let by_hand = PeerGroup { url: Some("  ".into()), ..group(&[(1, "AG-1")]) };
    assert_eq!(by_hand.accept().unwrap().url, None);
}

#[rstest]
#[case::no_level(group(&[]), "levels")]
#[case::a_level_twice(group(&[(1, "AG-1"), (1, "AG-2")]), "levels")]
#[case::a_code_twice(group(&[(1, "AG-1"), (2, " AG-1")]), "levels")]
#[case::no_code(group(&[(1, " ")]), "levels")]
#[case::no_name(PeerGroup { name: "\n".into(), ..group(&[(1, "AG-1")]) }, "name")]
#[case::no_laboratory(PeerGroup { laboratory: String::new(), ..group(&[(1, "AG-1")]) }, "laboratory")]
#[case::another_scheme(PeerGroup { url: Some("ftp://peers.example".into()), ..group(&[(1, "AG-1")]) }, "url")]
#[case::a_password(PeerGroup { url: Some("http://us:us@peers.example".into()), ..group(&[(1, "AG-1")]) }, "url")]
fn a_group_that_cannot_be_is_refused_by_its_field(#[case] given: PeerGroup, #[case] field: &str) {
    assert_eq!(given.accept().unwrap_err().field, field);
}

#[rstest]
#[case(" abc-123 ", Some("abc-123"))]
#[case("", None)]
#[case("two words", None)]
#[case("a\r\nX-Other: b", None)]
#[case("schlüssel", None)]
fn a_token_can_stand_in_a_header(#[case] given: &str, #[case] kept: Option<&str>) {
    assert_eq!(token(given).ok().as_deref(), kept);
}

#[rstest]
#[case::new((1, 0, false, false), GivenState::Waiting)]
#[case::there((1, 1, false, false), GivenState::Given)]
#[case::corrected((2, 1, false, false), GivenState::Waiting)]
#[case::given_up((1, 0, true, false), GivenState::NotTaken)]
#[case::taken_back((2, 1, false, true), GivenState::WithdrawalWaiting)]
#[case::told_so((2, 2, false, true), GivenState::Withdrawn)]
#[case::never_there((1, 1, false, true), GivenState::Withdrawn)]
#[case::could_not_be_told((2, 1, true, true), GivenState::NotTaken)]
fn where_a_result_stands(
    #[case] (revision, taken, ended, withdrawn): (u32, u32, bool, bool),
    #[case] state: GivenState,
) {
    assert_eq!(Standing { revision, taken, ended, withdrawn }.state(), state);
}

fn month(text: &str) -> Month {
    serde_json::from_value(text.into()).unwrap()
}

#[rstest]
#[case("2026-03", Some("2026-03-01"))]
#[case(" 2026-12 ", Some("2026-12-01"))]
#[case("2026-13", None)]
#[case("2026-03-02", None)]
#[case("0026-03", None)]
#[case("March", None)]
fn a_month_is_a_year_and_a_number(#[case] text: &str, #[case] first: Option<&str>) {
    let read: Result<Month, _> = serde_json::from_value(text.into());
    assert_eq!(read.ok().map(|month| month.first().to_string()).as_deref(), first);
}

#[test]
fn a_month_begins_by_the_clocks_of_the_place() {
    let moment: DateTime<Utc> = "2026-03-31T22:30:00Z".parse().unwrap();
    assert_eq!(Month::at(moment, &Utc).to_string(), "2026-03");
    let east = chrono::FixedOffset::east_opt(2 * 3600).unwrap();
    assert_eq!(Month::at(moment, &east).to_string(), "2026-04");
    assert_eq!(month("2026-01").before(2), month("2025-11"));
    assert_eq!(Month::of(NaiveDate::from_ymd_opt(2026, 2, 28).unwrap()), month("2026-02"));
}

fn statistic() -> PeerStatistic {
    PeerStatistic {
        code: "AG-1".into(),
        month: month("2026-03"),
        control_lot: None,
        reagent_lot: None,
        unit: Some("mg/kg".into()),
        laboratories: Some(24),
        n: 600,
        mean: 42.0,
        sd: 1.0,
    }
}

#[rstest]
#[case::fits(statistic(), None)]
#[case::no_unit(PeerStatistic { unit: None, ..statistic() }, None)]
#[case::another_unit(PeerStatistic { unit: Some("g/kg".into()), ..statistic() }, Some(WrongStatistic::Unit))]
#[case::one_result(PeerStatistic { n: 1, ..statistic() }, Some(WrongStatistic::N))]
#[case::no_mean(PeerStatistic { mean: f64::NAN, ..statistic() }, Some(WrongStatistic::Mean))]
#[case::no_sd(PeerStatistic { sd: 0.0, ..statistic() }, Some(WrongStatistic::Sd))]
#[case::endless_sd(PeerStatistic { sd: f64::INFINITY, ..statistic() }, Some(WrongStatistic::Sd))]
#[case::long_lot(PeerStatistic { reagent_lot: Some("R".repeat(81)), ..statistic() }, Some(WrongStatistic::Lot))]
fn what_a_group_tells_is_looked_at(#[case] told: PeerStatistic, #[case] wrong: Option<WrongStatistic>) {
    assert_eq!(told.check("mg/kg").err(), wrong);
}

fn own(in_month: &str, reagent_lot: &str, value: f64) -> OwnResult {
    OwnResult { month: month(in_month), control_lot: Some("C-7".into()), reagent_lot: Some(reagent_lot.into()), value }
}

fn told(control_lot: Option<&str>, reagent_lot: Option<&str>, mean: f64) -> Told {
    let lot = |lot: Option<&str>| lot.map(str::to_owned);
    let (control_lot, reagent_lot) = (lot(control_lot), lot(reagent_lot));
    Told { month: month("2026-03"), control_lot, reagent_lot, laboratories: None, n: 600, mean, sd: 2.0 }
}

#[test]
fn months_of_a_lot_stand_beside_what_was_told_of_them() {
    let results = [
        own("2026-03", "R-2", 44.0),
        own("2026-02", "R-1", 41.0),
        own("2026-03", "R-1", 43.0),
        own("2026-03", "R-1", 45.0),
    ];
    let lots = beside(&results, &[told(None, None, 40.0)]);
    // In the order in which the lots came into use.
    assert_eq!(lots.iter().map(|lot| lot.reagent_lot.as_deref()).collect::<Vec<_>>(), [Some("R-1"), Some("R-2")]);
    let [february, march] = lots[0].months.as_slice() else { panic!("{lots:?}") };
    assert_eq!((february.month, february.own.n, february.beside), (month("2026-02"), 1, None));
    let compared = march.beside.unwrap();
    assert!(close(compared.bias_percent.unwrap(), 10.0), "{compared:?}");
    assert!(close(compared.sdi, 2.0), "{compared:?}");
    // sd of 43 and 45 is √2, so own CV is √2/44 and the group's 2/40.
    assert!(close(compared.cvr.unwrap(), 2f64.sqrt() / 44.0 / 0.05), "{compared:?}");
    assert_eq!(compared.distance, Distance::Apart);
    // One result alone has no scatter, and a mean all the same.
    let single = lots[1].months[0].beside.unwrap();
    assert_eq!((single.cvr, single.sdi), (None, 2.0));
}

#[rstest]
#[case::all_lots_where_no_other(vec![told(None, None, 1.0)], Some(1.0))]
#[case::its_own_reagent_before_all(vec![told(None, None, 1.0), told(None, Some("R-1"), 2.0)], Some(2.0))]
#[case::its_own_material_before_its_reagent(
    vec![told(None, Some("R-1"), 2.0), told(Some("C-7"), None, 3.0)],
    Some(3.0)
)]
#[case::both_before_one(vec![told(Some("C-7"), None, 3.0), told(Some("C-7"), Some("R-1"), 4.0)], Some(4.0))]
#[case::never_of_another(vec![told(Some("C-8"), None, 5.0), told(None, Some("R-9"), 6.0)], None)]
fn what_fits_the_lots_best_is_compared(#[case] told: Vec<Told>, #[case] mean: Option<f64>) {
    let lots = beside(&[own("2026-03", "R-1", 44.0)], &told);
    assert_eq!(lots[0].months[0].told.as_ref().map(|told| told.mean), mean);
}

#[rstest]
#[case(42.0, Distance::Near)]
#[case(42.1, Distance::Apart)]
#[case(44.0, Distance::Apart)]
#[case(44.1, Distance::Far)]
#[case(35.0, Distance::Far)]
fn how_far_off_goes_by_the_size_of_the_sdi(#[case] value: f64, #[case] distance: Distance) {
    let lots = beside(&[own("2026-03", "R-1", value)], &[told(None, None, 40.0)]);
    assert_eq!(lots[0].months[0].beside.unwrap().distance, distance);
}
