-- Which columns of which table a person wants to see, in what order and how wide; only what differs from the tables' own.
alter table account add column columns_chosen jsonb not null default '{}';
