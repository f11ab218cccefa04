-- Episodes: the signals that tell of one happening. People are asked, answer, review and count by them. Which signals
-- belong together is a pure rule of `quality`; what is kept of it here can be made anew from the signals. Signals of
-- an older database are gathered when the program starts. --------------------------------------------------------

create table episode (
    id                uuid primary key,
    characteristic_id uuid not null references characteristic,
    aspect            text not null check (aspect in ('location', 'dispersion')),
    side              text check (side in ('above', 'below')),
    -- First and last point of its signals; where nothing of it holds any more, where they lay.
    from_taken_at     timestamptz not null,
    from_number       bigint not null,
    to_taken_at       timestamptz not null,
    to_number         bigint not null,
    raised_at         timestamptz not null,
    -- That of its least settled signal.
    state             text not null check (state in ('sent_back', 'open', 'found_late', 'answered', 'reviewed')),
    trial             boolean not null,
    -- Nothing of it holds any more.
    gone              boolean not null default false,
    version           int not null default 1,
    -- The reviewed one that its pattern goes on from.
    follows           uuid references episode,
    -- The one that all its signals belong to now, where two have become one.
    joined            uuid references episode
);
create index episode_by_end on episode (characteristic_id, to_taken_at, to_number) where not gone;
create index episode_by_start on episode (characteristic_id, from_taken_at, from_number) where not gone;
create index episode_waiting on episode (characteristic_id, raised_at) where state in ('open', 'sent_back') and not gone;
create index episode_by_state on episode (state, raised_at desc, id desc);
create index episode_by_time on episode (raised_at desc, id desc);

alter table signal
    -- Found out with the judgement that raised it; without one until the program has started once.
    add column episode_id uuid references episode,
    -- It was found too late to ask a technician, and has not gone on since.
    add column found_late boolean not null default false,
    drop column version,
    drop constraint signal_state_check,
    add constraint signal_state check (state in ('sent_back', 'open', 'found_late', 'answered', 'reviewed'));
create index signal_of_episode on signal (episode_id);
create index signal_without_episode on signal (characteristic_id) where episode_id is null;
drop index signal_waiting, signal_by_state, signal_by_time;

-- What was sent back is a state of its own.
update signal g set state = 'sent_back'
    where state = 'open' and withdrawn_at is null and 'sent_back' = (
        select r.decision from answer a join review r on r.answer_id = a.id
        where a.signal_id = g.id order by a.at desc, r.at desc limit 1);

-- An answer and a review are given once, for all signals of an episode that they were given for. --------------------

alter table answer
    add column comment text check (length(comment) between 1 and 2000),
    -- Steps of the reaction plan that were done.
    add column steps text[] not null default '{}',
    -- Whether what was made since the last clean sample was held.
    add column held boolean,
    add unique (id, person_id);
create table answer_of (
    answer_id uuid not null references answer,
    signal_id uuid not null references signal,
    primary key (answer_id, signal_id)
);
create index answer_of_signal_id on answer_of (signal_id);
insert into answer_of select id, signal_id from answer;

alter table review add unique (id, person_id);
create table review_of (
    review_id   uuid not null,
    reviewer    uuid not null,
    signal_id   uuid not null references signal,
    -- Nothing where what somebody made go away is reviewed without an answer, or what was found late is set as seen.
    answer_id   uuid,
    answered_by uuid,
    primary key (review_id, signal_id),
    foreign key (review_id, reviewer) references review (id, person_id),
    foreign key (answer_id, answered_by) references answer (id, person_id),
    foreign key (answer_id, signal_id) references answer_of,
    constraint review_not_own check (reviewer <> answered_by)
);
create index review_of_signal_id on review_of (signal_id);
create index review_of_answer_id on review_of (answer_id);
insert into review_of select id, person_id, signal_id, answer_id, answered_by from review;

alter table review
    drop constraint review_not_own,
    drop column signal_id,
    drop column answer_id,
    drop column answered_by,
    drop constraint review_decision_check,
    add constraint review_decision check (decision in ('accepted', 'seen', 'overruled', 'sent_back')),
    drop constraint review_check,
    add constraint review_says_why check (decision in ('accepted', 'seen') or remark is not null);
alter table answer drop column signal_id;
