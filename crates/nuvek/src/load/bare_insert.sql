insert into bare values (gen_random_uuid(), now(), random());
