-- A display hangs in the hall and shows charts; it shows a token, as what posts samples does. ------

alter table device
    drop constraint device_kind_check,
    add constraint device_kind_check check (kind in ('ingest', 'gauge', 'analyser', 'sensor', 'display')),
    drop constraint device_token,
    add constraint device_token check ((kind in ('ingest', 'display')) = (token_hash is not null));
