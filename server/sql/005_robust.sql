-- Which demo projects were loaded to their end: a start that was ended in the middle is completed by the next one, and a
-- project that somebody removed does not come back.
alter table account add column demo_loaded text[] not null default '{}';

-- Why a revision could not be computed, for people to read; null once it is, or while it is being tried.
alter table project add column settled_problem jsonb;

-- Originals are read in pieces: a compressed value would be unpacked whole for each of them.
alter table file alter column bytes set storage external;
