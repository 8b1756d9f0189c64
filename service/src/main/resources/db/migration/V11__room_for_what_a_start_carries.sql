-- What a start that waits carries can be as large as the results of the steps that it repeats.
alter table run_wish alter column details varchar(2000000);
