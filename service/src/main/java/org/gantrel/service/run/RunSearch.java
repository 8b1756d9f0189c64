package org.gantrel.service.run;

import jakarta.persistence.EntityManager;
import jakarta.persistence.TypedQuery;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.core.access.Deed;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Finds runs, newest first, among those that a caller may see. */
@Component
@Transactional(readOnly = true)
class RunSearch {

    /** A word that fewer runs hold is rare. */
    private static final int RARE = 500;

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
        Map<String, Object> values = new HashMap<>();
        values.put("before", before);
        List<Team> all = teams.all();
        List<Team> visible = filter.team()
                .map(name -> List.of(teams.visible(caller, name)))
                .orElseGet(() -> caller.among(all, Deed.SEE_RUNS));
        if (visible.isEmpty()) {
            return List.of();
        }
        var jpql = new StringBuilder("select r from RunRecord r where r.number < :before");
        if (visible.size() < all.size()) {
            jpql.append(" and r.teamId in :teams");
            values.put("teams", visible.stream().map(Team::id).toList());
        }
        filter.text().stream()
                .map(this::runsWith)
                .min(Comparator.comparing(List::size))
                .filter(runs -> runs.size() < RARE)
                .ifPresent(runs -> {
                    jpql.append(" and r.number in :rare");
                    values.put("rare", runs.isEmpty() ? List.of(-1L) : runs);
                });
        jpql.append(filter.conditions(values)).append(" order by r.number desc");
        TypedQuery<RunRecord> query =
                entities.createQuery(jpql.toString(), RunRecord.class).setMaxResults(most);
        values.forEach(query::setParameter);
        return query.getResultList().stream().map(RunRecord::value).toList();
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
