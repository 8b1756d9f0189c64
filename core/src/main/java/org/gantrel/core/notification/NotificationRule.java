package org.gantrel.core.notification;

import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.JobScope;
import org.gantrel.core.text.Words;

/**
 * Who is told of what.
 *
 * @param team whose rule it is; it tells of what that team may see
 * @param scope the jobs that it is for
 * @param tells what it tells of
 * @param after how many bad ends in a row there have to be first, from 1
 * @param when a condition over the run, in CEL; empty where there is none
 * @param to whom it tells first
 * @param by the channel; {@value #MAIL} for a mail
 * @param urgency whether it may wake somebody, or waits until work begins
 * @param remind how long after it told it tells again, while nobody sees to the fault; nothing for never
 * @param attach which outputs of the run go along with its mails, by names or patterns
 * @param worded the wording of its messages; empty for the usual one
 * @param then whom it tells when nobody sees to the fault for so long, in the order of time
 */
public record NotificationRule(
        String name,
        String team,
        String about,
        JobScope scope,
        Set<Happening> tells,
        int after,
        String when,
        List<Receiver> to,
        String by,
        Urgency urgency,
        Optional<Duration> remind,
        List<Escalation> then,
        String worded,
        List<String> attach)
        implements Telling {

    /** The channel that is always there: mails by the service's own mail server. */
    public static final String MAIL = "mail";

    /** What its condition calls the run. */
    public static final String RUN = "run";

    /** How much hurry there is. */
    public enum Urgency {
        CALM,
        USUAL,
        URGENT;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }

        public static List<String> words() {
            return Arrays.stream(values()).map(Urgency::word).toList();
        }
    }

    /** @param after how long after the first message */
    public record Escalation(Duration after, List<Receiver> to) {
        public Escalation {
            to = List.copyOf(to);
        }
    }

    public NotificationRule {
        tells = Set.copyOf(tells);
        to = List.copyOf(to);
        then = List.copyOf(then);
        attach = List.copyOf(attach);
    }

    /**
     * Whether it tells of something that happened to a run of a job, its condition aside.
     *
     * @param part whether the run is part of a chain: that tells of its steps by its own end, except to rules that name the
     *     step's job itself
     */
    public boolean isFor(Job job, Happening happening, boolean part) {
        return tells.contains(happening) && scope.isFor(job, team) && (!part || scope.namesExactly(job.name()));
    }

    /** What it does, in one sentence. */
    public String words() {
        return "tells " + to.stream().map(Receiver::words).collect(Collectors.joining(", ")) + " by " + by + " when "
                + scope.words(team) + " "
                + tells.stream().sorted().map(Happening::word).collect(Collectors.joining(" or "))
                + (after > 1 ? ", after " + after + " in a row" : "")
                + (when.isEmpty() ? "" : ", where " + when)
                + remind.map(each -> ", again every " + Words.duration(each) + " while nobody sees to it")
                        .orElse("")
                + then.stream()
                        .map(each -> ", after " + Words.duration(each.after()) + " also "
                                + each.to().stream().map(Receiver::words).collect(Collectors.joining(", ")))
                        .collect(Collectors.joining())
                + (attach.isEmpty() ? "" : ", with its outputs " + String.join(", ", attach));
    }
}
