package org.gantrel.core.job;

import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.core.text.Glob;

/**
 * The jobs that a rule or a trigger is for: those of its own team, or of the teams that it names, and of these such as have one of the names
 * or labels.
 *
 * @param jobs names, or patterns with {@code *} and {@code ?}
 * @param labels labels, of which a job has one at least
 * @param teams whose jobs are meant; none for those of the rule's own team
 */
public record JobScope(List<String> jobs, List<String> labels, List<String> teams) {

    /** In the place of a team's name: all teams. */
    public static final String ANY = "any";

    private static final int MOST_KEPT = 10_000;
    private static final Map<String, Glob> GLOBS = new ConcurrentHashMap<>();

    public JobScope {
        jobs = List.copyOf(jobs);
        labels = List.copyOf(labels);
        teams = List.copyOf(teams);
    }

    /** @param ruleTeam the team whose rule it is */
    public boolean isFor(Job job, String ruleTeam) {
        boolean among =
                teams.isEmpty() ? job.team().equals(ruleTeam) : teams.contains(job.team()) || teams.contains(ANY);
        boolean all = jobs.isEmpty() && labels.isEmpty();
        return among
                && (all
                        || names(job.name())
                        || labels.stream().anyMatch(label -> job.labels().contains(label)));
    }

    /** Whether it names a job itself, not by a pattern. */
    public boolean namesExactly(String job) {
        return jobs.contains(job);
    }

    private boolean names(String job) {
        return jobs.stream()
                .anyMatch(each ->
                        each.equals(job) || isPattern(each) && glob(each).matches(job));
    }

    private static Glob glob(String text) {
        if (GLOBS.size() > MOST_KEPT) {
            GLOBS.clear();
        }
        return GLOBS.computeIfAbsent(text, Glob::of);
    }

    /** Whether a text stands for several names. */
    public static boolean isPattern(String text) {
        return text.contains("*") || text.contains("?");
    }

    /** The same in words. */
    public String words(String ruleTeam) {
        String whose = teams.isEmpty() ? ruleTeam : String.join(" or ", teams);
        return jobs.isEmpty() && labels.isEmpty()
                ? "a job of " + whose
                : Stream.of(
                                jobs.isEmpty() ? "" : String.join(" or ", jobs),
                                labels.isEmpty() ? "" : "a job labelled " + String.join(" or ", labels))
                        .filter(part -> !part.isEmpty())
                        .collect(Collectors.joining(" or ", "", " of " + whose));
    }
}
