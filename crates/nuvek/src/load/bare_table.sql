create table if not exists bare (id uuid primary key, at timestamptz not null, reading double precision not null);
