alter table project add column description text not null default '' check (length(description) <= 2000);

-- A team: start settings of new projects, and the people who share them.
create table team (
  id uuid primary key default gen_random_uuid(),
  name text not null check (length(name) between 1 and 120),
  -- Settings, basis and code list that new projects begin with.
  start jsonb not null,
  created_at timestamptz not null default now()
);
create table team_member (
  team_id uuid not null references team (id) on delete cascade,
  account_id uuid not null references account (id) on delete cascade,
  role text not null check (role in ('owner', 'member')),
  primary key (team_id, account_id)
);
create index team_member_account on team_member (account_id);
alter table project add column team_id uuid references team (id) on delete set null;
-- A layout that a whole team uses.
alter table layout add column team_id uuid references team (id) on delete set null;

-- An invitation by a link. Only the hash of its token is kept.
create table invitation (
  id uuid primary key default gen_random_uuid(),
  token_hash text not null unique check (length(token_hash) = 64),
  project_id uuid references project (id) on delete cascade,
  team_id uuid references team (id) on delete cascade,
  role text not null,
  made_by uuid not null references account (id),
  made_at timestamptz not null default now(),
  expires_at timestamptz not null,
  used_by uuid references account (id),
  used_at timestamptz,
  check ((project_id is null) <> (team_id is null))
);
create index invitation_project on invitation (project_id);

-- A revision that somebody else than its makers has checked.
create table checked (
  project_id uuid not null references project (id) on delete cascade,
  revision integer not null,
  account_id uuid not null references account (id),
  at timestamptz not null default now(),
  note text not null default '' check (length(note) <= 500),
  primary key (project_id, revision, account_id)
);
