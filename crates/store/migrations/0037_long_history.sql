-- The few episodes that ask a technician, newest first, among any number of others.
create index episode_asking on episode (raised_at desc, id desc) where state in ('open', 'sent_back');
