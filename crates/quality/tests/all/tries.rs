//! How tries to sign in are slowed down.

use chrono::{DateTime, Duration, Utc};
use quality::tries::{Tries, wait};
use rstest::rstest;

#[rstest]
#[case::first(0, 0, 0, None)]
#[case::fifth(4, 4, 0, None)]
#[case::sixth(5, 5, 0, Some(1000))]
#[case::seventh(6, 6, 0, Some(2000))]
#[case::tenth(9, 9, 0, Some(16_000))]
#[case::never_longer(400, 400, 0, Some(30_000))]
#[case::waited(9, 9, 16_000, None)]
#[case::waited_in_part(9, 9, 15_500, Some(500))]
#[case::many_names(0, 30, 0, Some(1000))]
#[case::many_names_waited(0, 2000, 1000, None)]
fn the_next_try_is_heard_after(
    #[case] of_name: i64,
    #[case] of_place: i64,
    #[case] since_last: i64,
    #[case] expected: Option<i64>,
) {
    let now = DateTime::<Utc>::UNIX_EPOCH + Duration::days(20_000);
    let last = Some(now - Duration::milliseconds(since_last));
    let tries = |count| Tries { count, last };
    assert_eq!(wait(tries(of_name), tries(of_place), now), expected.map(Duration::milliseconds));
}
