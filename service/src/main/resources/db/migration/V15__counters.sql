-- Numbers that nobody sees are taken a thousand at a time: each time that some are taken costs a write of its own.
alter table schedule alter column id set cache 1000;
alter table occurrence alter column id set cache 1000;
alter table run_moment alter column id set cache 1000;
alter table run_item alter column id set cache 1000;
alter table chain_step alter column id set cache 1000;
alter table trigger_firing alter column id set cache 1000;
alter table handled alter column id set cache 1000;
