-- What the points since say of limits in force. Derived from the samples, beside the saving of them.
create table limits_look (
    characteristic_id uuid primary key references characteristic,
    limits_id         uuid not null references limits,
    -- Entries of the characteristic's trail when it was looked at.
    position          bigint not null,
    -- Nothing while there are too few points since.
    look              jsonb,
    -- On the list of limits to look at, since when.
    listed_since      timestamptz,
    -- The first sample of what lies elsewhere: where a new phase could begin, else the first of the points looked at.
    since_sample_id   uuid references sample,
    -- A phase is proposed to begin there.
    proposed          boolean not null default false
);

-- An engineer looked and kept limits: until when, and why.
create table limits_kept (
    id        uuid primary key,
    limits_id uuid not null references limits,
    at        timestamptz not null,
    person_id uuid not null references person,
    reason    text not null check (length(reason) between 1 and 2000),
    until     date not null
);
create index limits_kept_of on limits_kept (limits_id, at);
