-- Why: five tries a minute without end are 7,200 a day. A lock that follows another is longer; it stands in the table, so that no
-- restart opens it. A browser somebody has signed in on is known again and has a count of its own: whoever guesses elsewhere locks nobody out there.
alter table sign_in_try add column locks integer not null default 0, add column locked_until timestamptz;

create table tablet (
    token_sha256 text not null,
    person_id uuid not null references person,
    seen timestamptz not null,
    primary key (token_sha256, person_id)
);
