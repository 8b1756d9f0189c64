package org.gantrel.service.engine;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.run.RunEvent;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.aside.SetAside.Kind;
import org.gantrel.service.execution.Report;
import org.gantrel.service.execution.Supervisor;
import org.gantrel.service.run.Ledger;
import org.gantrel.service.run.Moved;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/** Writes down what those who do the work tell of it; what cannot be written down is kept and tried again. */
@Component
class Ends {

    private static final Logger LOG = LoggerFactory.getLogger(Ends.class);
    private static final int MOST_REPORTS = 200;

    private final Ledger ledger;
    private final Supervisor supervisor;
    private final Things things;
    private final SetAside aside;
    private final Leading leading;
    private final TransactionTemplate transaction;
    /** Reports that could not be written down yet. */
    private final List<Report> unrecorded = new ArrayList<>();

    Ends(
            Ledger ledger,
            Supervisor supervisor,
            Things things,
            SetAside aside,
            Leading leading,
            TransactionTemplate transaction) {
        this.ledger = ledger;
        this.supervisor = supervisor;
        this.things = things;
        this.aside = aside;
        this.leading = leading;
        this.transaction = transaction;
    }

    /**
     * What was written down.
     *
     * @param led the chains that went on with it
     */
    record Recorded(List<Moved> moved, List<Leading.Led> led) {}

    /** Writes down ends and news: many in one transaction, one by one where that cannot be. */
    Recorded record(Instant now) {
        var moved = new ArrayList<Moved>();
        var led = new ArrayList<Leading.Led>();
        var reports = new ArrayList<Report>();
        for (Report each : List.copyOf(unrecorded)) {
            if (!aside.isHeld(Kind.END, each.number())) {
                unrecorded.remove(each);
                record(each, now, true, moved);
            }
        }
        reports.addAll(supervisor.reports(MOST_REPORTS));
        while (!reports.isEmpty()) {
            List<Report> batch = List.copyOf(reports);
            try {
                Recorded recorded = transaction.execute(status -> {
                    ledger.read(batch.stream().map(Report::number).toList());
                    var all = new ArrayList<Moved>();
                    batch.forEach(report -> take(report, false, now).ifPresent(all::add));
                    return new Recorded(all, leading.leadChainsOf(all, now));
                });
                moved.addAll(recorded.moved());
                led.addAll(recorded.led());
                batch.forEach(this::settle);
            } catch (Throwable e) {
                LOG.warn("{} ends are written down one by one", batch.size(), e);
                batch.forEach(report -> record(report, now, false, moved));
            }
            reports.clear();
            reports.addAll(supervisor.reports(MOST_REPORTS));
        }
        return new Recorded(moved, led);
    }

    /** Deals with a report in the next step. */
    void later(Report report) {
        unrecorded.add(report);
    }

    private void record(Report report, Instant now, boolean bare, List<Moved> moved) {
        boolean recorded = aside.attempt(
                Kind.END, report.number(), () -> things.of(Kind.END, report.number(), "the end of "), () -> {
                    moved.addAll(transaction.execute(
                            status -> take(report, bare, now).map(List::of).orElse(List.of())));
                    settle(report);
                });
        if (!recorded) {
            unrecorded.add(report);
        }
    }

    private Optional<Moved> take(Report report, boolean bare, Instant now) {
        if (report instanceof Report.Ended ended) {
            return ledger.finish(
                    ended.number(),
                    bare ? ended.finish().bare("what else it left could not be written down") : ended.finish(),
                    ended.at(),
                    now);
        }
        if (report instanceof Report.Refused refused) {
            return ledger.move(refused.number(), new RunEvent.Refused(refused.why(), refused.unsure()), now);
        }
        ledger.remark(report.number(), ((Report.News) report).text(), now);
        return Optional.empty();
    }

    private void settle(Report report) {
        if (!(report instanceof Report.News)) {
            supervisor.settle(report.number());
        }
    }
}
