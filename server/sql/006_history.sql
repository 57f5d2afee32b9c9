-- What one person would take back or bring again next is looked up for every page, however long the history is.
create index change_of_person on change (project_id, account_id, kind, revision);
create index change_about on change (project_id, about, revision) where about is not null;
