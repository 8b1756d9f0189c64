package org.gantrel.core.definition;

import org.gantrel.core.job.Job;

/**
 * A job as it was read from a document of a definition file.
 *
 * @param line the line of the file on which the document begins, counted from 1
 * @param text the document itself, kept as it was written, comments and all
 */
public record Definition(Job job, int line, String text) {}
