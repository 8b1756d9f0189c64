package org.gantrel.core.job;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.run.ExitRule;

/** What can be run: a task, which does one thing, or a chain, which joins jobs in order. */
public sealed interface Job {

    /** What names look like: lower-case letters, digits and dashes. */
    String NAME = "[a-z][a-z0-9]*(-[a-z0-9]+)*";

    int LONGEST_NAME = 60;

    String name();

    String team();

    String about();

    Parameters parameters();

    List<Schedule> schedules();

    /** The addresses that get a mail when a run fails or times out. */
    List<String> mailOnFailure();

    /** One action, for now a local command. */
    record Task(
            String name,
            String team,
            String about,
            Parameters parameters,
            Command command,
            Optional<Duration> timeLimit,
            ExitRule exitRule,
            List<Schedule> schedules,
            List<String> mailOnFailure)
            implements Job {}

    /** Jobs joined in order. */
    record Chain(
            String name,
            String team,
            String about,
            Parameters parameters,
            List<Step> steps,
            List<Schedule> schedules,
            List<String> mailOnFailure)
            implements Job {}
}
