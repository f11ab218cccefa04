//! What an account may say.

use quality::account::{Account, may_lose_administrator};
use quality::role::{Permission, Role};
use rstest::rstest;
use uuid::Uuid;

fn place(n: u128) -> Vec<Uuid> {
    vec![Uuid::from_u128(n)]
}

#[rstest]
#[case::anybody(Account::everywhere("Nora", Role::Technician), None)]
#[case::no_name(Account::everywhere("  ", Role::Technician), Some("name"))]
#[case::no_person(Account::everywhere("Kiln", Role::Device), Some("role"))]
#[case::reader_of_nothing(Account::everywhere("Rita", Role::Reader), Some("areas"))]
#[case::reader(Account { areas: place(1), ..Account::everywhere("Rita", Role::Reader) }, None)]
#[case::reader_of_a_station(
    Account { areas: place(1), stations: place(2), ..Account::everywhere("Rita", Role::Reader) },
    Some("stations")
)]
#[case::twice(
    Account { areas: [place(1), place(1)].concat(), ..Account::everywhere("Nora", Role::Engineer) },
    Some("areas")
)]
#[case::bound_nowhere(Account { bound: true, ..Account::everywhere("Nora", Role::Technician) }, Some("bound"))]
#[case::bound(Account { bound: true, stations: place(2), ..Account::everywhere("Nora", Role::Technician) }, None)]
#[case::bound_supervisor(
    Account { bound: true, stations: place(2), ..Account::everywhere("Sue", Role::Supervisor) },
    Some("bound")
)]
fn is_taken_or_refused_by_its_field(#[case] account: Account, #[case] refused: Option<&str>) {
    assert_eq!(account.accept().err().map(|wrong| wrong.field), refused);
}

#[test]
fn is_kept_trimmed_and_in_order() {
    let given = Account {
        stations: vec![Uuid::from_u128(9), Uuid::from_u128(2)],
        ..Account::everywhere("  Nora Newly ", Role::Technician)
    };
    let kept = given.accept().unwrap();
    assert_eq!(kept.name, "Nora Newly");
    assert_eq!(kept.stations, [Uuid::from_u128(2), Uuid::from_u128(9)]);
}

/// What each role carries, written out: a permission that slips to a role is seen here.
#[rstest]
#[case(Role::Device, &[])]
#[case(Role::Reader, &["read", "read_trail"])]
#[case(Role::Technician, &["read", "look", "enter_sample", "change_sample", "record_event", "write_note", "answer_signal", "release_run"])]
#[case(Role::Supervisor, &["read", "look", "enter_sample", "change_sample", "record_event", "write_note", "answer_signal", "review_signal", "release_run", "override_run", "set_aside", "bring_in", "keep_study", "read_trail"])]
#[case(Role::Engineer, &["read", "look", "enter_sample", "change_sample", "record_event", "write_note", "answer_signal", "review_signal", "release_run", "override_run", "set_aside", "set_limits", "set_up", "bring_in", "keep_study", "read_trail"])]
#[case(Role::Administrator, &["read", "look", "write_note", "read_trail", "look_after_people"])]
fn a_role_carries(#[case] role: Role, #[case] expected: &[&str]) {
    let word = |permission: &Permission| serde_json::to_value(permission).unwrap().as_str().unwrap().to_owned();
    let carried: Vec<String> = role.permissions().iter().map(word).collect();
    assert_eq!(carried, expected);
}

#[test]
fn the_last_who_looks_after_people_stays() {
    assert!(may_lose_administrator(1).is_ok());
    assert!(may_lose_administrator(0).is_err());
}
