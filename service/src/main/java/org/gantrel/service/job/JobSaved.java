package org.gantrel.service.job;

import org.gantrel.core.job.Job;

/** A job has a new revision. Those who keep something of their own about it follow, in the same transaction. */
public record JobSaved(JobEntry record, Job job) {}
