package org.gantrel.service.job;

/** A job was taken out of use. */
public record JobRetired(JobEntry record) {}
