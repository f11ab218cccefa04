//! Which PINs and badge numbers are taken.

use quality::pin::{is_badge, is_pin};
use rstest::rstest;

#[rstest]
#[case::four("2580", true)]
#[case::eight("19283746", true)]
#[case::too_short("258", false)]
#[case::too_long("192837465", false)]
#[case::alike("7777", false)]
#[case::counted_up("3456", false)]
#[case::counted_down("9876543", false)]
#[case::up_but_for_one("12346", true)]
#[case::letter("25a80", false)]
#[case::other_digits("٢٥٨٠", false)]
#[case::nothing("", false)]
fn a_pin_is_four_to_eight_digits_that_nobody_tries_first(#[case] pin: &str, #[case] taken: bool) {
    assert_eq!(is_pin(pin), taken);
}

#[rstest]
#[case("04A9C1D7", true)]
#[case("04A9C1D", false)]
#[case("77777777", false)]
#[case("23456789", false)]
#[case("123", false)]
#[case("04-A9", false)]
#[case("A123456789012345678901234567890123", false)]
fn a_badge_is_what_a_reader_reads(#[case] badge: &str, #[case] taken: bool) {
    assert_eq!(is_badge(badge), taken);
}
