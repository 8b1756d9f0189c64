package org.gantrel.core.notification;

/**
 * How messages are worded: a subject and a text, as templates without logic.
 *
 * @param team whose rules may use it
 * @param subject one line
 * @param text what the mail says; its HTML is made from it
 */
public record Wording(String name, String team, String about, String subject, String text) implements Telling {}
