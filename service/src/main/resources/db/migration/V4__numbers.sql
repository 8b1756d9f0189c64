-- Lines of timelines and items get their numbers in blocks, so that many can be inserted at once.
create sequence run_moment_id increment by 100;
alter sequence run_moment_id restart with (select coalesce(max(id), 0) + 1000 from run_moment);
create sequence run_item_id increment by 100;
alter sequence run_item_id restart with (select coalesce(max(id), 0) + 1000 from run_item);
