package org.gantrel.service.run;

/** A run has ended. Those whom it concerns follow, in the same transaction. */
public record RunEnded(RunRecord run) {}
