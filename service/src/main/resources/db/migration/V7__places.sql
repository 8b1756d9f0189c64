-- the folders that work with files of a team may use, a full path a line; empty for any
alter table team add column folders varchar(60000) default '' not null;
