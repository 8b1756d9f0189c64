package org.gantrel.service.http;

import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Function;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Words;

/**
 * The order of a list that is sorted by one of its columns instead of newest first: {@code sort=took}, or {@code sort=-took} for
 * the greatest first. So that nobody's question costs the others, the newest {@value #MOST} rows that match are sorted; what is
 * older is found by narrowing the search.
 *
 * @param <K> what is known of each row for sorting it
 */
public final class Order<K> {

    /** So many rows are sorted. */
    public static final int MOST = 10_000;

    private final Comparator<K> order;
    private final Function<K, Long> id;

    private Order(Comparator<K> order, Function<K, Long> id) {
        this.order = order;
        this.id = id;
    }

    /**
     * What a list can be sorted by.
     *
     * @param <K> what is known of each row
     */
    public static final class Columns<K> {
        private final Map<String, Function<K, Comparable<?>>> columns = new TreeMap<>();
        private final Function<K, Long> id;

        /** @param id the row's number, which grows with each new row */
        public Columns(Function<K, Long> id) {
            this.id = id;
        }

        /** @param value what a row is sorted by; rows of which it is null come last, whichever way */
        public Columns<K> with(String name, Function<K, Comparable<?>> value) {
            columns.put(name, value);
            return this;
        }

        /**
         * Reads what was asked for; nothing where the list is to be newest first.
         *
         * @throws InvalidException where there is no such column
         */
        public Optional<Order<K>> read(String sort) {
            if (sort == null || sort.isBlank()) {
                return Optional.empty();
            }
            boolean down = sort.startsWith("-");
            String name = down ? sort.substring(1) : sort;
            Function<K, Comparable<?>> value = columns.get(name);
            if (value == null) {
                throw new InvalidException(
                        "sort",
                        "'" + sort + "' is nothing to sort by" + Nearest.hint(name, columns.keySet()) + "; there are "
                                + Words.list(List.copyOf(columns.keySet()))
                                + ", with - before it for the greatest first");
            }
            return Optional.of(new Order<>(byValue(value, down).thenComparing(id, Comparator.reverseOrder()), id));
        }

        @SuppressWarnings("unchecked")
        private static <K> Comparator<K> byValue(Function<K, Comparable<?>> value, boolean down) {
            Comparator<Comparable<Object>> natural = Comparator.naturalOrder();
            Comparator<Comparable<Object>> either = Comparator.nullsLast(down ? natural.reversed() : natural);
            return Comparator.comparing(row -> (Comparable<Object>) value.apply(row), either);
        }
    }

    /**
     * The numbers of a page's rows, in order.
     *
     * @param rows all that are sorted
     * @param after the number of the row that the page before ended with; of none where it is the first page
     * @throws InvalidException where that row is no longer among them
     */
    public List<Long> page(List<K> rows, long after, int most) {
        List<Long> sorted = rows.stream().sorted(order).map(id).toList();
        if (after == Long.MAX_VALUE) {
            return sorted.subList(0, Math.min(most, sorted.size()));
        }
        int place = sorted.indexOf(after);
        if (place < 0) {
            throw new InvalidException("after", after + " is no longer in this list; its first page would be right");
        }
        return sorted.subList(place + 1, Math.min(sorted.size(), place + 1 + most));
    }

    /** Rows in the order of their numbers, as far as they are still there. */
    public static <R> List<R> inOrder(List<Long> numbers, List<R> rows, Function<R, Long> number) {
        Map<Long, R> found = new TreeMap<>();
        rows.forEach(row -> found.put(number.apply(row), row));
        return numbers.stream().map(found::get).filter(row -> row != null).toList();
    }
}
