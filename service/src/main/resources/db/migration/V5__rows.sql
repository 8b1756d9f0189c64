-- Edits of single rows say which rows they were made of, so that nobody's are silently overwritten.
alter table roster add column rows_revision int default 0 not null;
alter table roster add column rows_by varchar(60) default '' not null;

-- How many rows of a sweep are how far is counted as they go, so that nobody has to count a hundred thousand of them.
alter table sweep add column started int default 0 not null;
alter table sweep add column succeeded int default 0 not null;
alter table sweep add column warned int default 0 not null;
alter table sweep add column failed int default 0 not null;
alter table sweep add column not_reached int default 0 not null;
update sweep s set
    started = (select count(*) from sweep_row r where r.state = 'STARTED' and r.id between s.run_number * 1048576 and s.run_number * 1048576 + 1048575),
    succeeded = (select count(*) from sweep_row r where r.state = 'SUCCEEDED' and r.id between s.run_number * 1048576 and s.run_number * 1048576 + 1048575),
    warned = (select count(*) from sweep_row r where r.state = 'WARNED' and r.id between s.run_number * 1048576 and s.run_number * 1048576 + 1048575),
    failed = (select count(*) from sweep_row r where r.state = 'FAILED' and r.id between s.run_number * 1048576 and s.run_number * 1048576 + 1048575),
    not_reached = (select count(*) from sweep_row r where r.state = 'NOT_REACHED' and r.id between s.run_number * 1048576 and s.run_number * 1048576 + 1048575);
