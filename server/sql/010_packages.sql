-- What a package was asked for, so that the next one for the same recipient begins with it; a file name that no other of the
-- project has; and a withdrawal, which leaves the record of what was made.
alter table package
  add column spec jsonb,
  add column file_name text,
  add column withdrawn_at timestamptz,
  add column withdrawn_by uuid references account (id),
  add column withdrawn_why text,
  add constraint package_file_name unique (project_id, file_name),
  add constraint package_withdrawal check ((withdrawn_at is null) = (withdrawn_why is null));

-- How points go out is kept beside how they come in; one office may be both sender and recipient.
alter table layout drop constraint layout_account_id_name_key;
create unique index layout_by_name on layout (account_id, name, (layout ? 'out'));
