-- Which revisions were brought in from a file: an edit made since is not undone unasked. Nothing is known of older ones.
alter table job_revision add column brought_in boolean;
alter table calendar_revision add column brought_in boolean;
alter table roster_revision add column brought_in boolean;
alter table lane_revision add column brought_in boolean;

-- Schedules that were switched off together go on together: those that were off before stay off.
alter table schedule add column off_together boolean default false not null;
