package org.gantrel.service.run;

/**
 * A run that waits, as little of it as those need to know who look at thousands.
 *
 * @param waitingFor what it waits for, in words
 */
public record Waiter(long number, String waitingFor) {}
