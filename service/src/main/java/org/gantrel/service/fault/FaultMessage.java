package org.gantrel.service.fault;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Instant;

/**
 * A message about a fault.
 *
 * @param state how far it has come
 * @param goesAt when it goes, where it waits
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record FaultMessage(Instant at, String kind, String rule, String to, String by, String state, Instant goesAt) {}
