package org.gantrel.service.run;

/** A run over a roster is about to be written down; who knows of rosters may refuse it. */
public record SweepPlanned(SweepRequest over) {}
