package org.gantrel.service.fault;

import java.util.List;

/** Who was told of a fault; known to whoever sends messages. */
public interface FaultMessages {

    /** The messages about a fault, the oldest first. */
    List<FaultMessage> of(long fault);
}
