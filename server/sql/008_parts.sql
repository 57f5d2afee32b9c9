-- What a project holds, in parts: a change writes those it touches, and a page asks for those that moved. Order within a
-- kind is said by the rank.
create table part (
  project_id uuid not null references project (id) on delete cascade,
  kind text not null check (length(kind) between 1 and 20),
  key text not null,
  -- Names may be long; what they are found by is short.
  digest text not null generated always as (md5(key)) stored,
  rank double precision,
  -- Null where the part is gone: whoever knows an older revision is told.
  value jsonb,
  -- The revision that wrote it last.
  revision integer not null check (revision >= 0),
  primary key (project_id, kind, digest)
);
create index part_revision on part (project_id, revision);

-- Documents that earlier versions kept as one value are taken apart when the server starts, and leave nothing here.
alter table project alter column document drop not null;
