//! Which passwords are taken.

use quality::field::Allowed;
use quality::password::check_password;
use rstest::rstest;

#[rstest]
#[case::of_words("tarn-valley", true)]
#[case::with_a_word_of_many("my password is long", true)]
#[case::ten("kiln-at-7o", true)]
#[case::of_another_alphabet("глина и вода", true)]
#[case::nine("kiln-at-7", false)]
#[case::empty("", false)]
#[case::too_long(&"ab".repeat(101), false)]
#[case::the_sign_in_in_it("all-of-TILDA-s", false)]
#[case::one_character("aaaaaaaaaaaa", false)]
#[case::counted_up("1234567890", false)]
#[case::counted_down("9876543210", false)]
#[case::letters_in_a_row("abcdefghijk", false)]
#[case::common("password123", false)]
#[case::common_in_disguise("P@$$w0rd2026!", false)]
#[case::common_twice("passwordpassword1", false)]
#[case::a_row_of_keys("qwertyuiop", false)]
fn a_password(#[case] given: &str, #[case] taken: bool) {
    let checked = check_password("password", "tilda", given);
    assert_eq!(checked.is_ok(), taken, "{checked:?}");
    if let Err(wrong) = checked {
        assert!(matches!(wrong.allowed, Allowed::Password { least: 10, most: 200 }));
    }
}
