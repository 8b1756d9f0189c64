package org.gantrel.service.team;

/** Where it is written down who changed what. */
public interface ChangeLog {

    /** Writes down, in the transaction under way, what somebody did. */
    void record(Caller who, String deed, String kind, String name, String team, String detail);
}
