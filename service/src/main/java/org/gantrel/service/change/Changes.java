package org.gantrel.service.change;

import java.time.Clock;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.access.Deed;
import org.gantrel.core.event.EventType;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.ChangeLog;
import org.springframework.data.domain.Limit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;

/** The audit record. A line is written in the transaction of the change that it tells of. */
@Component
public class Changes implements ChangeLog {

    private static final int LONGEST_DETAIL = 600;
    /** Things that write no event of their own when they change; whoever looks at them hears of it from here. */
    private static final Map<String, EventType> SILENT = Map.of(
            "roster", EventType.ROSTER_CHANGED,
            "team", EventType.TEAM_CHANGED,
            "member", EventType.TEAM_CHANGED,
            "person", EventType.PERSON_CHANGED);
    /** What changes no account, and has events of its own. */
    private static final Set<String> OF_SIGNING_IN =
            Set.of("signed in", "signed out", "failed to sign in", "slowed down");

    private final ChangeStore store;
    private final Journal journal;
    private final Clock clock;

    Changes(ChangeStore store, Journal journal, Clock clock) {
        this.store = store;
        this.journal = journal;
        this.clock = clock;
    }

    /** Writes down what somebody did. */
    @Override
    @Transactional(propagation = Propagation.MANDATORY)
    public void record(Caller who, String deed, String kind, String name, String team, String detail) {
        String brief = detail.length() <= LONGEST_DETAIL ? detail : detail.substring(0, LONGEST_DETAIL);
        store.save(new ChangeRecord(clock.instant(), who.name(), deed, kind, name, team, brief));
        EventType type = SILENT.get(kind);
        if (type != null && !OF_SIGNING_IN.contains(deed)) {
            String thing = kind.equals("member") ? team : name;
            String message = who.name() + " " + deed + " " + kind + " " + name;
            journal.write(type.type(), team, Map.of("name", thing, "what", deed, "message", message));
        }
    }

    /** Lets go of lines that are older; a batch a transaction. */
    public void thin(Instant before, int batch, Runnable between) {
        while (store.thin(before, batch) > 0) {
            between.run();
        }
    }

    /** What was done to things of some kinds that belong to teams, the latest first. */
    @Transactional(readOnly = true)
    public List<ChangeView> between(
            Collection<String> teams, Collection<String> kinds, Instant from, Instant until, int most) {
        return store.between(teams, kinds, from, until, Limit.of(most)).stream()
                .map(ChangeRecord::view)
                .toList();
    }

    /** What was done last to something of a team until an instant. */
    @Transactional(readOnly = true)
    public Optional<ChangeView> lastOf(String kind, String name, String team, Instant until) {
        return store.lastOf(kind, name, team, until, Limit.of(1)).map(ChangeRecord::view);
    }

    /** What was done first to something of a team after an instant. */
    @Transactional(readOnly = true)
    public Optional<ChangeView> firstOf(String kind, String name, String team, Instant after) {
        return store.firstOf(kind, name, team, after, Limit.of(1)).map(ChangeRecord::view);
    }

    /** What is looked for; an empty part lets everything through. */
    record Filter(String person, String kind, String name, String team) {}

    List<ChangeRecord> before(Caller caller, Filter filter, long before, int limit) {
        List<String> teams = caller.roles().entrySet().stream()
                .filter(entry -> Deed.SEE_CHANGES.allowedTo(entry.getValue()))
                .map(Map.Entry::getKey)
                .toList();
        return store.before(
                before,
                caller.administrator(),
                teams,
                filter.person(),
                filter.kind(),
                filter.name(),
                filter.team(),
                Limit.of(limit));
    }
}
