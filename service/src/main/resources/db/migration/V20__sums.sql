-- What the rows of a sweep give together, added up as they end.
alter table sweep add column if not exists sums varchar(20000) default '' not null;
