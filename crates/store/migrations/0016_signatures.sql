-- Signatures: name, time, meaning, and exactly what they cover. -------------------------------------------------------

create table signature (
    id        uuid primary key,
    person_id uuid not null references person,
    -- As they were called then.
    name      text not null check (name <> ''),
    at        timestamptz not null,
    meaning   text not null check (meaning in ('reviewed'))
);
create index signature_by_time on signature (at desc, id desc);
-- A decision is signed once.
create table signed (
    review_id    uuid primary key references review,
    signature_id uuid not null references signature,
    -- What was seen: the decision, its signals, the answers, the samples.
    content      text not null,
    -- SHA-256 over it, in hexadecimal.
    digest       text not null check (length(digest) = 64)
);
create index signed_by on signed (signature_id);
create index review_by_person on review (person_id, at);
