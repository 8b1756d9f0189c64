package org.gantrel.core.definition;

import org.gantrel.core.notification.Telling;

/**
 * A rule, duty list or channel as it was read from a document of a definition file.
 *
 * @param line the line of the file on which the document begins, counted from 1
 * @param text the document itself, kept as it was written
 */
public record TellingDefinition(Telling telling, int line, String text) {}
