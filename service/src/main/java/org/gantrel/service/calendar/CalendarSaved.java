package org.gantrel.service.calendar;

/** A calendar has a new revision, or is out of use; what was worked out from it is to be worked out anew. */
public record CalendarSaved(String name) {}
