create table account (
  id uuid primary key default gen_random_uuid(),
  email text not null,
  name text not null check (length(name) between 1 and 120),
  password_hash text not null,
  is_demo boolean not null default false,
  created_at timestamptz not null default now()
);
create unique index account_email on account (lower(email));

-- As connect-pg-simple keeps sessions.
create table session (
  sid varchar primary key,
  sess json not null,
  expire timestamp(6) not null
);
create index session_expire on session (expire);

create table server_setting (
  name text primary key,
  value text not null
);

create table project (
  id uuid primary key default gen_random_uuid(),
  name text not null check (length(name) between 1 and 120),
  archived_at timestamptz,
  created_at timestamptz not null default now(),
  created_by uuid not null references account (id),
  revision integer not null default 0 check (revision >= 0),
  -- Settings, decisions and edits at this revision: what the changes below add up to.
  document jsonb not null,
  -- Results of the newest revision that has been computed.
  settled_revision integer,
  settled jsonb
);

create table member (
  project_id uuid not null references project (id) on delete cascade,
  account_id uuid not null references account (id) on delete cascade,
  role text not null check (role in ('owner', 'surveyor', 'checker', 'crew', 'viewer')),
  primary key (project_id, account_id)
);
create index member_account on member (account_id);

create table file (
  project_id uuid not null references project (id) on delete cascade,
  id text not null,
  name text not null check (length(name) between 1 and 255),
  size integer not null,
  sha256 text not null check (length(sha256) = 64),
  bytes bytea not null,
  received_at timestamptz not null default now(),
  received_by uuid not null references account (id),
  primary key (project_id, id)
);

create table change (
  project_id uuid not null references project (id) on delete cascade,
  revision integer not null check (revision > 0),
  account_id uuid not null references account (id),
  at timestamptz not null default now(),
  kind text not null check (kind in ('do', 'undo', 'redo')),
  -- For undo and redo, the revision of the change that it speaks of.
  about integer,
  what text not null,
  change jsonb not null,
  inverse jsonb not null,
  primary key (project_id, revision)
);

create table blob (
  hash text primary key check (length(hash) = 64),
  bytes bytea not null,
  made_at timestamptz not null default now()
);

-- A result under the hash of everything it was computed from.
create table derived (
  project_id uuid not null references project (id) on delete cascade,
  key text not null,
  hash text not null references blob (hash),
  primary key (project_id, key)
);
create index derived_hash on derived (project_id, hash);

create table layout (
  id uuid primary key default gen_random_uuid(),
  account_id uuid not null references account (id) on delete cascade,
  name text not null check (length(name) between 1 and 80),
  layout jsonb not null,
  -- What the first rows of its files look like, to propose it again.
  signature text not null,
  used_at timestamptz not null default now(),
  unique (account_id, name)
);

create table package (
  project_id uuid not null references project (id) on delete cascade,
  id uuid not null default gen_random_uuid(),
  revision integer not null,
  name text not null,
  manifest jsonb not null,
  bytes bytea not null,
  made_at timestamptz not null default now(),
  made_by uuid not null references account (id),
  primary key (project_id, id)
);
