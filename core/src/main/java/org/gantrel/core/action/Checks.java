package org.gantrel.core.action;

import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Stream;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.Bindings.Bound;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.Template;

/**
 * Named expectations, looked at in order; each becomes an item that passed or failed, with what was seen. An answer may give
 * values that later ones use: sign in, ask, check.
 *
 * @param known what they are filled from when they are looked at; nothing before that is known
 * @param from the repository that files are read from whose paths are not full ones
 */
public record Checks(List<Check> all, Optional<Bindings> known, Optional<GitSource> from) implements Action {

    /** Checks as they are written. */
    public Checks(List<Check> all, Optional<GitSource> from) {
        this(all, Optional.empty(), from);
    }

    /** One expectation of one thing. */
    public record Check(String name, String credential, Subject subject, Expectation expectation) {

        /** The same with every expression worked out. */
        public Check fill(Bindings from) {
            return new Check(name, credential, subject.fill(from), expectation.fill(from));
        }

        /** Its texts that may hold expressions. */
        public List<String> texts() {
            return Stream.concat(subject.texts().stream(), expectation.texts()).toList();
        }

        /** The hosts that it is looked at from, each by itself; none for this one. */
        public List<String> from() {
            return subject instanceof Answer answer ? answer.limits().from() : List.of();
        }

        /** The values that later checks may use, by their names, and where they are in its answer. */
        public Map<String, String> take() {
            return subject instanceof Answer answer ? answer.request().take() : Map.of();
        }
    }

    /** What is looked at. */
    public sealed interface Subject {
        Subject fill(Bindings known);

        /** Its texts that may hold expressions. */
        List<String> texts();
    }

    /** The first value that a query gives. */
    public record QueryValue(String query, Bound bound) implements Subject {
        @Override
        public QueryValue fill(Bindings known) {
            return new QueryValue(query, known.bind(query));
        }

        @Override
        public List<String> texts() {
            return List.of(query);
        }
    }

    /** The body that an address answers with; its status has to be one that is expected. */
    public record Answer(Request request, AnswerLimits limits) implements Subject {
        @Override
        public Answer fill(Bindings known) {
            return new Answer(request.fill(known), limits.fill(known));
        }

        @Override
        public List<String> texts() {
            return Stream.of(
                            Stream.of(request.address(), request.body()),
                            request.headers().values().stream(),
                            limits.header().values().stream())
                    .flatMap(Function.identity())
                    .toList();
        }
    }

    /**
     * What else an answer has to be.
     *
     * @param fasterThan how long it may take, body and all
     * @param certificateDays how many days the certificate of its host has to be good for
     * @param header what has to be in some of its headers, by their names
     * @param at a JSON pointer (RFC 6901) to the value that is looked at; empty for the whole body
     * @param from the hosts that it is asked from, each by itself; empty for this one
     */
    public record AnswerLimits(
            Optional<Duration> fasterThan,
            Optional<Integer> certificateDays,
            Map<String, String> header,
            String at,
            List<String> from) {

        public AnswerLimits {
            from = List.copyOf(from);
        }

        AnswerLimits fill(Bindings known) {
            return new AnswerLimits(fasterThan, certificateDays, known.fill(header), at, from);
        }
    }

    /** A file: its text is looked at, and how old and how large it is. */
    public record FileState(String path, Optional<Duration> newerThan, Optional<Long> largerThan) implements Subject {
        @Override
        public FileState fill(Bindings known) {
            return new FileState(known.fill(path), newerThan, largerThan);
        }

        @Override
        public List<String> texts() {
            return List.of(path);
        }
    }

    /** What the value must be; each part that is empty is not asked. */
    public record Expectation(
            Optional<String> equal, Optional<String> atLeast, Optional<String> atMost, Optional<String> contains) {

        private Stream<String> texts() {
            return Stream.of(equal, atLeast, atMost, contains).flatMap(Optional::stream);
        }

        Expectation fill(Bindings known) {
            return new Expectation(
                    equal.map(known::fill),
                    atLeast.map(known::fill),
                    atMost.map(known::fill),
                    contains.map(known::fill));
        }

        /** What is wrong with a value; nothing where it is as expected. */
        public Optional<String> complaint(String seen) {
            if (equal.isPresent() && !same(seen, equal.get())) {
                return Optional.of("expected " + equal.get());
            }
            if (contains.isPresent() && !seen.contains(contains.get())) {
                return Optional.of("expected '" + contains.get() + "' in it");
            }
            for (String least : atLeast.stream().toList()) {
                Optional<Integer> order = Comparison.compare(seen, least);
                if (order.isEmpty() || order.get() < 0) {
                    return Optional.of(expected("at least ", least, order));
                }
            }
            for (String most : atMost.stream().toList()) {
                Optional<Integer> order = Comparison.compare(seen, most);
                if (order.isEmpty() || order.get() > 0) {
                    return Optional.of(expected("at most ", most, order));
                }
            }
            return Optional.empty();
        }

        private static String expected(String how, String limit, Optional<Integer> order) {
            return "expected " + how + limit
                    + Comparison.kind(limit)
                            // of a number that is too large or too small everybody sees that it is one
                            .map(kind -> order.isPresent() && kind.equals(Comparison.NUMBER)
                                    ? ""
                                    : ", " + kind + (order.isEmpty() ? ", and it is none" : ""))
                            .orElse(", which is no number, date or time to compare with");
        }

        /** A limit that is no expression and can be compared with nothing; nothing where all are fine. */
        public Optional<String> wrongLimit() {
            return Stream.concat(atLeast.stream(), atMost.stream())
                    .filter(limit ->
                            !Template.isFilled(limit) && Comparison.kind(limit).isEmpty())
                    .findFirst();
        }

        private static boolean same(String seen, String wanted) {
            return seen.equals(wanted)
                    || Comparison.compare(seen, wanted)
                            .filter(order -> order == 0)
                            .isPresent();
        }
    }

    public Checks {
        all = List.copyOf(all);
    }

    @Override
    public String kind() {
        return "checks";
    }

    /** Those that need nothing of the others are tried at once, so that what cannot be worked out is known before anything is done. */
    @Override
    public Checks fill(Bindings known) {
        boolean taken = false;
        for (Check check : all) {
            try {
                check.fill(known);
            } catch (ExpressionException e) {
                if (!taken) {
                    throw e;
                }
            }
            taken |= !check.take().isEmpty();
        }
        return new Checks(all, Optional.of(known), this.from.map(source -> source.fill(known)));
    }

    /**
     * A check as it is looked at.
     *
     * @param taken what earlier answers gave
     */
    public Check ready(Check check, Map<String, String> taken) {
        Bindings from = known.orElseThrow();
        var values = new LinkedHashMap<>(from.values());
        values.putAll(taken);
        return check.fill(new Bindings(values, from.planned(), from.kinds(), from.steps()));
    }

    @Override
    public List<String> credentials() {
        return Stream.concat(
                        all.stream()
                                .flatMap(check -> Stream.concat(Stream.of(check.credential()), check.from().stream())),
                        from.map(GitSource::credential).stream())
                .filter(name -> !name.isEmpty())
                .distinct()
                .toList();
    }
}
