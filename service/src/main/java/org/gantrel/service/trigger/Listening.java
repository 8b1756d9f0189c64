package org.gantrel.service.trigger;

import org.gantrel.core.trigger.Trigger;

/**
 * A trigger of a job that is in use.
 *
 * @param job the job that it starts
 * @param jobName its name
 * @param team the name of the job's team
 */
public record Listening(long job, String jobName, String team, Trigger trigger) {

    /** What an event says that was made for this trigger alone. */
    public String address() {
        return address(jobName, trigger.name());
    }

    static String address(String job, String trigger) {
        return job + "/" + trigger;
    }
}
