package org.gantrel.core.action;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.Bindings.Bound;
import org.gantrel.core.expression.Template;

/** Named expectations; each becomes an item that passed or failed, with what was seen. */
public record Checks(List<Check> all) implements Action {

    /** One expectation of one thing. */
    public record Check(String name, String credential, Subject subject, Expectation expectation) {
        Check fill(Bindings known) {
            return new Check(name, credential, subject.fill(known), expectation.fill(known));
        }
    }

    /** What is looked at. */
    public sealed interface Subject {
        Subject fill(Bindings known);
    }

    /** The first value that a query gives. */
    public record QueryValue(String query, Bound bound) implements Subject {
        @Override
        public QueryValue fill(Bindings known) {
            return new QueryValue(query, known.bind(query));
        }
    }

    /** The body that an address answers with; its status has to be one that is expected. */
    public record Answer(Request request) implements Subject {
        @Override
        public Answer fill(Bindings known) {
            return new Answer(request.fill(known));
        }
    }

    /** A file: its text is looked at, and how old and how large it is. */
    public record FileState(String path, Optional<Duration> newerThan, Optional<Long> largerThan) implements Subject {
        @Override
        public FileState fill(Bindings known) {
            return new FileState(known.fill(path), newerThan, largerThan);
        }
    }

    /** What the value must be; each part that is empty is not asked. */
    public record Expectation(
            Optional<String> equal, Optional<String> atLeast, Optional<String> atMost, Optional<String> contains) {

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

    @Override
    public Checks fill(Bindings known) {
        return new Checks(all.stream().map(check -> check.fill(known)).toList());
    }

    @Override
    public List<String> credentials() {
        return all.stream()
                .map(Check::credential)
                .filter(name -> !name.isEmpty())
                .distinct()
                .toList();
    }
}
