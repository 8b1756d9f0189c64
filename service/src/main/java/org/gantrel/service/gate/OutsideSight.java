package org.gantrel.service.gate;

/** What was told of work that others do. */
public interface OutsideSight {

    /** Whether the start of a run was told. */
    boolean hasBegun(long run);
}
