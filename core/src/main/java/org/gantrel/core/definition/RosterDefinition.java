package org.gantrel.core.definition;

import org.gantrel.core.roster.Roster;

/**
 * A roster as it stands in a definition file.
 *
 * @param line the line of the file on which it begins, from 1
 * @param text the document as it was written
 */
public record RosterDefinition(Roster roster, int line, String text) {}
