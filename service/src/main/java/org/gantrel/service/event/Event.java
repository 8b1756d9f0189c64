package org.gantrel.service.event;

import java.util.Map;

/**
 * Something that changed, told to those who watch. It names what changed; whoever wants more asks for it.
 *
 * @param id grows by one with each event since the service started
 * @param type such as {@code run.changed} or {@code job.changed}
 * @param team whose members may know of it
 */
public record Event(long id, String type, String team, Map<String, Object> about) {}
