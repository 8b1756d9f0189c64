package org.gantrel.core.access;

import static org.gantrel.core.access.Role.ADMINISTRATOR;
import static org.gantrel.core.access.Role.EDITOR;
import static org.gantrel.core.access.Role.MANAGER;
import static org.gantrel.core.access.Role.OPERATOR;
import static org.gantrel.core.access.Role.VIEWER;

import java.util.Locale;

/**
 * What may be done, and the least role that may do it: the one table of rights. A role may do all that the roles below
 * it may. Every call of the service is checked against it.
 */
public enum Deed {
    // spotless:off
    //                  least role     what it covers
    SEE_JOBS(           VIEWER,        "see a team's jobs, schedules and their definitions"),
    SEE_RUNS(           VIEWER,        "see a team's runs, their values and logs"),
    START_RUNS(         OPERATOR,      "start a job by hand, repeat a run"),
    CANCEL_RUNS(        OPERATOR,      "cancel a run, take charge of a failure"),
    SWITCH_SCHEDULES(   OPERATOR,      "switch a schedule off and on"),
    WORK_LANES(         OPERATOR,      "widen, close and open a team's lanes"),
    HOLD_WORK(          OPERATOR,      "hold a job, a team or a lane, and end a hold"),
    DEFINE_JOBS(        EDITOR,        "make and change a team's jobs"),
    DEFINE_CALENDARS(   EDITOR,        "make and change a team's calendars; all teams may use them"),
    SEE_CREDENTIALS(    EDITOR,        "see a team's credentials, never their secrets"),
    TEST_CREDENTIALS(   EDITOR,        "sign in with a credential to see whether it works"),
    KEEP_CREDENTIALS(   MANAGER,       "make, change, rotate and delete a team's credentials"),
    SEE_DELIVERIES(     OPERATOR,      "see the mails about a team's runs"),
    RETIRE_JOBS(        MANAGER,       "take a job out of use"),
    SEE_CHANGES(        VIEWER,        "see who changed what in a team"),
    MANAGE_MEMBERS(     MANAGER,       "decide who is in the team, and as what"),
    MANAGE_TEAMS(       ADMINISTRATOR, "make teams"),
    MANAGE_PEOPLE(      ADMINISTRATOR, "make accounts, shut them, set their passwords"),
    KEEP_ACCOUNTS(      ADMINISTRATOR, "make and change credentials for accounts of the host"),
    HOLD_ALL(           ADMINISTRATOR, "hold the whole service"),
    ROTATE_KEYS(        ADMINISTRATOR, "make a new key and seal every secret again under it"),
    RUN_INSTALLATION(   ADMINISTRATOR, "see how the installation is, back it up, let old history go"),
    SEE_METRICS(        ADMINISTRATOR, "read the metrics of the whole service");
    // spotless:on

    private final Role least;
    private final String about;

    Deed(Role least, String about) {
        this.least = least;
        this.about = about;
    }

    public Role least() {
        return least;
    }

    public String about() {
        return about;
    }

    public boolean allowedTo(Role role) {
        return role.compareTo(least) >= 0;
    }

    /** The word for it in JSON. */
    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
}
