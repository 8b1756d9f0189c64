-- The sweeps of a job, the newest first, without the runs of their rows.
create index sweep_by_job on sweep (job_id, run_number);
