package org.gantrel.service.run;

import jakarta.persistence.EntityManager;
import jakarta.persistence.TypedQuery;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import org.gantrel.core.access.Deed;
import org.gantrel.core.run.RunState;
import org.gantrel.service.http.Newest;
import org.gantrel.service.http.Order;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Finds runs, newest first or sorted by something, among those that a caller may see. */
@Component
@Transactional(readOnly = true)
class RunSearch {

    /** A word that fewer runs hold is rare. */
    private static final int RARE = 500;

    /** What runs are sorted by. */
    record Key(
            Long number,
            String job,
            RunState state,
            String starter,
            Instant plannedAt,
            Instant startedAt,
            Instant finishedAt) {
        private Duration took() {
            return startedAt == null || finishedAt == null ? null : Duration.between(startedAt, finishedAt);
        }
    }

    static final Order.Columns<Key> COLUMNS = new Order.Columns<>(Key::number)
            .with("job", Key::job)
            .with("number", Key::number)
            .with("planned", Key::plannedAt)
            .with("starter", key -> key.starter() == null || key.starter().isEmpty() ? null : key.starter())
            .with("state", key -> key.state().word())
            .with("took", Key::took);

    private final EntityManager entities;
    private final Teams teams;

    RunSearch(EntityManager entities, Teams teams) {
        this.entities = entities;
        this.teams = teams;
    }

    /**
     * Up to so many runs with a lower number than a given one.
     *
     * <p>A caller who sees every team needs no condition on teams; the search then goes straight down the numbers. That
     * soon finds words that many runs hold; a word that few hold says itself which runs are to be looked at.
     */
    List<Run> find(Caller caller, RunFilter filter, long before, int most) {
        return select("r", RunRecord.class, RunRecord::number, caller, filter, before, most).stream()
                .map(RunRecord::value)
                .toList();
    }

    /**
     * A page of those that are found, in another order.
     *
     * @param after the last run of the page before
     */
    List<Run> find(Caller caller, RunFilter filter, Order<Key> order, long after, int most) {
        String key = "new " + Key.class.getName()
                + "(r.number, r.jobName, r.state, r.starter, r.plannedAt, r.startedAt, r.finishedAt)";
        List<Long> numbers = order.page(
                select(key, Key.class, Key::number, caller, filter, Long.MAX_VALUE, Order.MOST), after, most);
        List<Run> runs = numbers.isEmpty()
                ? List.of()
                : entities
                        .createQuery("select r from RunRecord r where r.number in :numbers", RunRecord.class)
                        .setParameter("numbers", numbers)
                        .getResultList()
                        .stream()
                        .map(RunRecord::value)
                        .toList();
        return Order.inOrder(numbers, runs, Run::number);
    }

    private <T> List<T> select(
            String what,
            Class<T> type,
            Function<T, Long> number,
            Caller caller,
            RunFilter filter,
            long before,
            int most) {
        List<Team> all = teams.all();
        List<Team> visible = filter.team()
                .map(name -> List.of(teams.visible(caller, name)))
                .orElseGet(() -> caller.among(all, Deed.SEE_RUNS));
        if (visible.isEmpty()) {
            return List.of();
        }
        Map<String, Object> values = new HashMap<>();
        values.put("before", before);
        var jpql = new StringBuilder("select " + what + " from RunRecord r where r.number < :before");
        filter.text().stream()
                .map(this::runsWith)
                .min(Comparator.comparing(List::size))
                .filter(runs -> runs.size() < RARE)
                .ifPresent(runs -> {
                    jpql.append(" and r.number in :rare");
                    values.put("rare", runs.isEmpty() ? List.of(-1L) : runs);
                });
        jpql.append(filter.conditions(values));
        List<Long> only =
                visible.size() < all.size() ? visible.stream().map(Team::id).toList() : List.of();
        if (only.isEmpty() || filter.job().isPresent() || most > Newest.MOST) {
            if (!only.isEmpty()) {
                // no index of teams is to be used, which would have all that they hold sorted
                jpql.append(" and r.teamId + 0L in :teams");
                values.put("teams", only);
            }
            // see RunStore
            jpql.append(filter.job().isPresent() ? " order by r.jobId desc, r.number desc" : " order by r.number desc");
            return list(jpql.toString(), type, values, most);
        }
        jpql.append(" and r.teamId = :only order by r.teamId desc, r.number desc");
        return Newest.of(only, number, most, team -> {
            values.put("only", team);
            return list(jpql.toString(), type, values, most);
        });
    }

    private <T> List<T> list(String jpql, Class<T> type, Map<String, Object> values, int most) {
        TypedQuery<T> query = entities.createQuery(jpql, type).setMaxResults(most);
        values.forEach(query::setParameter);
        return query.getResultList();
    }

    /** The runs that hold a word, as far as they are few. */
    private List<Long> runsWith(String word) {
        return entities.createQuery(
                        "select distinct w.runNumber from RunWord w where w.word >= :word and w.word < :after",
                        Long.class)
                .setParameter("word", word)
                .setParameter("after", word + Character.MAX_VALUE)
                .setMaxResults(RARE)
                .getResultList();
    }
}
