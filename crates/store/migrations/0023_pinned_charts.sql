-- Charts that a person pinned among the small ones. ----------------------------------------------

create table pinned_chart (
    person_id         uuid not null references person,
    characteristic_id uuid not null references characteristic,
    primary key (person_id, characteristic_id)
);
