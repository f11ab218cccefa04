//! Notes: who may change one, whom it can be meant for.

use quality::note::{NotYourNote, may_be_mentioned, may_change, mentions};
use quality::role::Role;
use uuid::Uuid;

#[test]
fn a_note_is_changed_by_who_wrote_it_and_by_no_rank() {
    let (one, other) = (Uuid::from_u128(1), Uuid::from_u128(2));
    assert_eq!(may_change(one, one), Ok(()));
    assert_eq!(may_change(other, one), Err(NotYourNote));
}

#[test]
fn those_are_mentioned_who_have_a_bell() {
    let told = [Role::Technician, Role::Supervisor, Role::Engineer, Role::Administrator];
    assert!(told.into_iter().all(may_be_mentioned));
    assert!(![Role::Reader, Role::Device].into_iter().any(may_be_mentioned));
}

#[test]
fn nobody_is_mentioned_twice() {
    let people: Vec<Uuid> = (0..21).map(Uuid::from_u128).collect();
    assert_eq!(mentions(&people[..20]), Ok(()));
    assert_eq!(mentions(&people).unwrap_err().field, "mentions");
    assert_eq!(mentions(&[people[1], people[1]]).unwrap_err().field, "mentions");
}
