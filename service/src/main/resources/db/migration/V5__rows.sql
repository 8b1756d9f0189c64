-- Edits of single rows say which rows they were made of, so that nobody's are silently overwritten.
alter table roster add column rows_revision int default 0 not null;
alter table roster add column rows_by varchar(60) default '' not null;
