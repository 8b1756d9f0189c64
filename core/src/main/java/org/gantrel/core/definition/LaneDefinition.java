package org.gantrel.core.definition;

import org.gantrel.core.lane.Lane;

/**
 * A lane as it was read from a document of a definition file.
 *
 * @param line the line of the file on which the document begins, counted from 1
 * @param text the document itself, kept as it was written
 */
public record LaneDefinition(Lane lane, int line, String text) {}
