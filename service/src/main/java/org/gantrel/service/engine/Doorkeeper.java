package org.gantrel.service.engine;

import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.gantrel.core.run.Admission;
import org.gantrel.core.run.Admission.Held;
import org.gantrel.core.run.Admission.LaneNow;
import org.gantrel.core.run.Admission.Snapshot;
import org.gantrel.core.run.Admission.Verdict;
import org.gantrel.core.run.Admission.WaitingRows;
import org.gantrel.core.run.Wait;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.aside.SetAside.Kind;
import org.gantrel.service.lane.Lanes;
import org.gantrel.service.run.Ledger;
import org.gantrel.service.run.Runs;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.traffic.RowWaits;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Asks admission what may begin, whenever something happened that could change its mind, and says of those that wait for
 * what. What is decided the engine does.
 */
@Component
class Doorkeeper {

    /**
     * What was decided.
     *
     * @param at when: nothing that it was decided from is of a later moment
     * @param dismissed those that will not begin at all
     */
    record Decided(Instant at, Verdict verdict, List<WaitingRoom.Dismissed> dismissed) {}

    private final WaitingRoom room;
    private final RowWaits rowWaits;
    private final Lanes lanes;
    private final Runs runs;
    private final Ledger ledger;
    private final SetAside aside;
    private final TransactionTemplate transaction;
    private final Clock clock;
    private final Admission admission;
    private boolean somethingWanted;
    private Map<String, LaneNow> lanesBefore = Map.of();
    private List<Long> heldRunsBefore = List.of();
    private List<Long> heldSweepsBefore = List.of();

    Doorkeeper(
            WaitingRoom room,
            RowWaits rowWaits,
            Lanes lanes,
            Runs runs,
            Ledger ledger,
            SetAside aside,
            TransactionTemplate transaction,
            Settings settings,
            Clock clock) {
        this.room = room;
        this.rowWaits = rowWaits;
        this.lanes = lanes;
        this.runs = runs;
        this.ledger = ledger;
        this.aside = aside;
        this.transaction = transaction;
        this.clock = clock;
        this.admission = new Admission(settings.limits().runsAtOnce());
    }

    /** Is told that a sweep wants to begin rows. */
    void somethingWanted() {
        somethingWanted = true;
    }

    /**
     * Decides; nothing where nothing happened since the last time.
     *
     * @param begun when the engine's step began, since when things have happened
     */
    Optional<Decided> decide(RowsWanted rows, Instant begun) {
        Collection<WaitingRows> wanted = rows.now();
        room.refresh();
        Instant read = clock.instant();
        Instant now = read.isAfter(begun) ? read : begun;
        Map<String, LaneNow> lanesNow = lanes.now();
        List<Long> heldRuns = aside.held(Kind.WAITING_RUN);
        List<Long> heldSweeps = aside.held(Kind.SWEEP);
        boolean news = room.hasNews(now)
                || somethingWanted
                || !lanesNow.equals(lanesBefore)
                || !heldRuns.equals(heldRunsBefore)
                || !heldSweeps.equals(heldSweepsBefore);
        if (!news || room.isEmpty() && wanted.isEmpty()) {
            if (wanted.isEmpty()) {
                rowsWait(wanted, rows.heldApart(), now);
            }
            return Optional.empty();
        }
        if (runs.underway() != room.tasksUnderway()) {
            room.distrust();
            room.refresh();
        }
        somethingWanted = false;
        lanesBefore = lanesNow;
        heldRunsBefore = heldRuns;
        heldSweepsBefore = heldSweeps;
        room.looked(now);
        var dismissed = new ArrayList<WaitingRoom.Dismissed>();
        var rowsHeld = new ArrayList<>(rows.heldApart());
        var snapshot = new Snapshot(
                now,
                List.copyOf(room.underway()),
                room.waiting(heldRuns, now, dismissed),
                wanted.stream()
                        .filter(each -> !heldSweeps.contains(each.sweep()))
                        .filter(each -> room.holdOfRows(each.sweep(), now)
                                .map(wait -> rowsHeld.add(new Held(each.sweep(), wait)))
                                .isEmpty())
                        .toList(),
                lanesNow);
        Verdict verdict = admission.decide(snapshot);
        holdBack(verdict.held(), now);
        rowsHeld.addAll(verdict.rowsHeld());
        rowsWait(wanted, rowsHeld, now);
        return Optional.of(new Decided(now, verdict, dismissed));
    }

    private void rowsWait(Collection<WaitingRows> wanted, List<Held> held, Instant now) {
        List<RowWaits.Over> over = rowWaits.decided(wanted, held, now);
        if (!over.isEmpty()) {
            transaction.executeWithoutResult(status -> over.forEach(each -> ledger.waited(
                    each.sweep(), each.waited().by(), each.waited().since(), now)));
        }
    }

    /** Says for what runs wait, where that is not said of them already. */
    private void holdBack(List<Held> held, Instant now) {
        Map<Wait, List<Long>> news = held.stream()
                .filter(each -> !room.isSaid(each.number(), each.by()))
                .collect(Collectors.groupingBy(Held::by, Collectors.mapping(Held::number, Collectors.toList())));
        if (!news.isEmpty()) {
            transaction.executeWithoutResult(status -> news.forEach((by, numbers) -> {
                ledger.holdBack(numbers, by);
                List<Long> others = numbers.stream()
                        .filter(number -> !room.isSame(number, by))
                        .toList();
                if (!others.isEmpty()) {
                    ledger.waits(others, by, now);
                }
            }));
            news.forEach((by, numbers) -> numbers.forEach(number -> room.say(number, by)));
        }
    }
}
