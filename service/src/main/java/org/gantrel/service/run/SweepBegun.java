package org.gantrel.service.run;

/** A run over a roster was written down. What it needs beside follows in the same transaction. */
public record SweepBegun(Run run, SweepRequest over) {}
