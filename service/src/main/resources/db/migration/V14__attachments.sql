-- Which outputs of its run go along with a mail: names or patterns, one a line.
alter table delivery add attach varchar(2000) default '' not null;
