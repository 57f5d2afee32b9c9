-- Code lists that a person or a team keeps, for a client or for all; every revision stays.
create table code_list (
  id uuid primary key default gen_random_uuid(),
  account_id uuid not null references account (id) on delete cascade,
  team_id uuid references team (id) on delete cascade,
  name text not null check (length(name) between 1 and 80),
  client text not null default '' check (length(client) <= 80),
  made_at timestamptz not null default now()
);
create index code_list_account on code_list (account_id);
create index code_list_team on code_list (team_id);
create table code_list_revision (
  code_list_id uuid not null references code_list (id) on delete cascade,
  revision integer not null check (revision > 0),
  list jsonb not null,
  saved_by uuid not null references account (id) on delete cascade,
  saved_at timestamptz not null default now(),
  primary key (code_list_id, revision)
);
-- Lines know their vertices by now. What was settled before is computed anew when it is next opened.
update project set settled = null, settled_revision = null;
