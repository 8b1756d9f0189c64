package org.gantrel.service.run;

/**
 * Somebody sees to a failed run, or nobody does any more; told within the transaction that notes it.
 *
 * @param person empty for nobody
 */
public record Charge(Run run, String person) {}
