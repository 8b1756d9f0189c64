package org.gantrel.core.gate;

import java.math.BigDecimal;
import java.time.Duration;
import java.time.LocalTime;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.action.Checks;
import org.gantrel.core.action.Checks.Check;
import org.gantrel.core.action.Request;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.Template;
import org.gantrel.core.text.Words;

/** A condition that has to hold before a run starts. Texts may hold expressions over the run's values. */
public sealed interface Gate {

    /** The credential by which the host is reached that it looks at; empty for this one. */
    default String host() {
        return "";
    }

    /** The name of the credential that a look at it uses; empty where it uses none. */
    default String credential() {
        return host();
    }

    private static String onHost(String host) {
        return host.isEmpty() ? "" : " on the host of " + host;
    }

    /** What it asks for, in words. */
    String words();

    /** The same with every expression worked out. */
    default Gate fill(Bindings known) {
        return this;
    }

    /** The texts of it that may hold expressions. */
    default List<String> texts() {
        return List.of();
    }

    /** Whether what it asks for depends on one of some values. */
    default boolean speaksOf(Collection<String> values) {
        return texts().stream().anyMatch(text -> Template.speaksOf(text, values));
    }

    /**
     * A file is there and was not changed for a while; where its name is a glob, one at least that matches, and none of those
     * was changed.
     *
     * @param glob whether the name, the last part of the path, was written as one; in others a {@code *} is that letter
     */
    record FileThere(String path, Duration settled, String host, boolean glob) implements Gate {

        /** One with a name of its own. */
        public FileThere(String path, Duration settled, String host) {
            this(path, settled, host, false);
        }

        /** The folder of a path. */
        public String folder() {
            int end = path.lastIndexOf('/');
            return end == 0 ? "/" : path.substring(0, Math.max(end, 0));
        }

        /** The last part of a path. */
        public String name() {
            return path.substring(path.lastIndexOf('/') + 1);
        }

        @Override
        public String words() {
            return (glob ? "a file like " : "the file ") + path + onHost(host);
        }

        @Override
        public List<String> texts() {
            return List.of(path);
        }

        @Override
        public FileThere fill(Bindings known) {
            return new FileThere(known.fill(path), settled, host, glob);
        }
    }

    /** Whoever does the work has told that it began. */
    record ToldStart() implements Gate {
        @Override
        public String words() {
            return "its start to be told";
        }
    }

    /** So many bytes are free in the file system of a folder. */
    record FreeSpace(long bytes, String under, String host) implements Gate {
        @Override
        public String words() {
            return Words.bytes(bytes) + " free under " + under + onHost(host);
        }

        @Override
        public List<String> texts() {
            return List.of(under);
        }

        @Override
        public FreeSpace fill(Bindings known) {
            return new FreeSpace(bytes, known.fill(under), host);
        }
    }

    /**
     * The host has been below a load for a while.
     *
     * @param below the load average of one minute
     */
    record Load(BigDecimal below, Duration during, String host) implements Gate {
        @Override
        public String words() {
            return "a load below " + below + onHost(host);
        }
    }

    /** An address answers, or a query gives a value, as expected. */
    record Expected(Check check) implements Gate {
        @Override
        public String words() {
            return check.subject() instanceof Checks.Answer answer
                    ? "an answer from " + address(answer.request())
                    : "what a query with " + check.credential() + " gives";
        }

        @Override
        public List<String> texts() {
            return check.texts();
        }

        @Override
        public Expected fill(Bindings known) {
            return new Expected(check.fill(known));
        }

        @Override
        public String credential() {
            return check.credential();
        }

        private static String address(Request request) {
            return request.address();
        }
    }

    /** The local time is between two times, which may lie on both sides of midnight. */
    record Between(LocalTime from, LocalTime until) implements Gate {
        @Override
        public String words() {
            return "a time from " + from + " to " + until;
        }

        /** Whether it holds at a time. */
        public boolean holds(LocalTime time) {
            return from.isBefore(until)
                    ? !time.isBefore(from) && time.isBefore(until)
                    : !time.isBefore(from) || time.isBefore(until);
        }
    }

    /** It is a day, and an hour, of a calendar. */
    record InCalendar(String calendar) implements Gate {
        @Override
        public String words() {
            return "a day and hour of the calendar " + calendar;
        }
    }

    /**
     * Another job's latest run ended.
     *
     * @param good whether it has to have ended well
     * @param since how old that end may be at the planned time; nothing for any time from the planned day on
     */
    record JobEnded(String job, boolean good, Optional<Duration> since) implements Gate {
        @Override
        public String words() {
            return (good ? "a good end of " : "an end of ") + job;
        }
    }

    /** An expression over the run's values is true. */
    record Holds(String expression) implements Gate {
        @Override
        public String words() {
            return expression;
        }

        @Override
        public List<String> texts() {
            return List.of("${" + expression + "}");
        }
    }
}
