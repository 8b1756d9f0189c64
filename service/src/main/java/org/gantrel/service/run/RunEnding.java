package org.gantrel.service.run;

/** A run ends in the transaction under way; what belongs to it is written in the same one. */
public record RunEnding(Run run) {}
