package org.gantrel.service.team;

/**
 * The password of an account was changed, or the account was shut: what it is signed in with no longer holds.
 *
 * @param person whose account it is
 */
public record AccountChanged(Person person) {}
