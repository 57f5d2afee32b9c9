-- Who runs the server; whom they keep out; who has gone. What somebody who is gone did keeps its place in the history.
alter table account add column is_admin boolean not null default false;
alter table account add column locked_at timestamptz;
alter table account add column gone_at timestamptz;

-- A new password by a link from an administrator. Only the hash of its token is kept.
create table password_reset (
  token_hash text primary key check (length(token_hash) = 64),
  account_id uuid not null references account (id) on delete cascade,
  made_by uuid not null references account (id),
  expires_at timestamptz not null,
  used_at timestamptz
);

-- Sign-ins, refusals, roles, what administrators do. Names stand as they were then.
create table audit (
  id bigint generated always as identity primary key,
  at timestamptz not null default now(),
  what text not null check (length(what) <= 60),
  account_id uuid,
  name text not null default '',
  address text not null default '',
  project_id uuid,
  detail text not null default '' check (length(detail) <= 500)
);
create index audit_account on audit (account_id, id);
