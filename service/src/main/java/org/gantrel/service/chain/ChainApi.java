package org.gantrel.service.chain;

import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.access.Deed;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.service.change.Changes;
import org.gantrel.service.durable.Durability;
import org.gantrel.service.http.Texts;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.run.ChainSight;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunAccess;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.Wishes;
import org.gantrel.service.team.Caller;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.transaction.support.TransactionTemplate;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** What people do to the runs of chains: go on after a repair, skip a step, decide, hold. */
@RestController
@RequestMapping("/api/v1")
class ChainApi {

    private static final int LOOKS = 200;
    private static final long LOOK_MILLIS = 10;
    private static final int LONGEST_NOTE = 300;

    /**
     * @param from a step; missing for all that ended badly
     * @param parameters other values for the remainder, by name
     * @param note why, for those who look at it later
     */
    record GoOnBody(String from, Map<String, Object> parameters, String note) {}

    record NoteBody(String note) {}

    /** @param approve whether the chain goes on */
    record DecisionBody(Boolean approve, String note) {}

    private final Runs runs;
    private final RunAccess access;
    private final Jobs jobs;
    private final ChainWants wants;
    private final ChainSight sight;
    private final Approvals approvals;
    private final Wishes wishes;
    private final Changes changes;
    private final Durability durability;
    private final TransactionTemplate transaction;
    private final Clock clock;

    ChainApi(
            Runs runs,
            RunAccess access,
            Jobs jobs,
            ChainWants wants,
            ChainSight sight,
            Approvals approvals,
            Wishes wishes,
            Changes changes,
            Durability durability,
            TransactionTemplate transaction,
            Clock clock) {
        this.runs = runs;
        this.access = access;
        this.jobs = jobs;
        this.wants = wants;
        this.sight = sight;
        this.approvals = approvals;
        this.wishes = wishes;
        this.changes = changes;
        this.durability = durability;
        this.transaction = transaction;
        this.clock = clock;
    }

    /** The questions of chains that wait for an answer, the oldest first. */
    @GetMapping("/approvals")
    @Transactional(readOnly = true)
    List<Approvals.Open> approvals(@AuthenticationPrincipal Caller caller) {
        return approvals.open(caller);
    }

    /** The steps of a chain's run, with what people did to it. */
    @GetMapping("/runs/{number}/chain")
    @Transactional
    ChainSight.Seen show(@AuthenticationPrincipal Caller caller, @PathVariable long number) {
        Run run = access.visible(caller, number);
        if (!run.isChain()) {
            throw Refusal.conflict("run " + number + " is no run of a chain");
        }
        return sight.of(caller, run);
    }

    /** Goes on with a chain in the same run: from what ended badly, or from a step. */
    @PostMapping("/runs/{number}/rounds")
    ChainSight.Seen goOn(
            @AuthenticationPrincipal Caller caller,
            @PathVariable long number,
            @RequestBody(required = false) GoOnBody body) {
        String from = body == null || body.from() == null ? "" : body.from().strip();
        var wanted = new ChainWants.Wanted(
                false, note(body == null ? null : body.note()), Texts.of(body == null ? null : body.parameters()));
        return want(caller, number, Deed.START_RUNS, Wishes.Kind.GO_ON, from, wanted, "went on with");
    }

    /** Leaves out a step and goes on with what follows it. */
    @PostMapping("/runs/{number}/steps/{step}/skip")
    ChainSight.Seen skip(
            @AuthenticationPrincipal Caller caller,
            @PathVariable long number,
            @PathVariable String step,
            @RequestBody(required = false) NoteBody body) {
        return want(
                caller, number, Deed.START_RUNS, Wishes.Kind.SKIP, step, noted(body), "skipped step " + step + " of");
    }

    /** Answers the question of a step. */
    @PostMapping("/runs/{number}/steps/{step}/decision")
    ChainSight.Seen decide(
            @AuthenticationPrincipal Caller caller,
            @PathVariable long number,
            @PathVariable String step,
            @RequestBody DecisionBody body) {
        requireAsked(caller, number, step);
        if (body.approve() == null) {
            throw new InvalidException("approve", "is missing: true to go on, false to refuse");
        }
        var wanted = new ChainWants.Wanted(body.approve(), note(body.note()), Map.of());
        String deed = (body.approve() ? "approved step " : "refused step ") + step + " of";
        return want(caller, number, null, Wishes.Kind.DECIDE, step, wanted, deed);
    }

    /** Has a chain begin no further step until somebody lets it go on. */
    @PutMapping("/runs/{number}/hold")
    ChainSight.Seen hold(
            @AuthenticationPrincipal Caller caller,
            @PathVariable long number,
            @RequestBody(required = false) NoteBody body) {
        return want(caller, number, Deed.CANCEL_RUNS, Wishes.Kind.HOLD, "", noted(body), "held");
    }

    @DeleteMapping("/runs/{number}/hold")
    ChainSight.Seen letGo(@AuthenticationPrincipal Caller caller, @PathVariable long number) {
        return want(caller, number, Deed.CANCEL_RUNS, Wishes.Kind.LET_GO, "", ChainWants.Wanted.NOTHING, "let go on");
    }

    /** Who is asked may answer, also of a chain whose runs are not theirs to see; to all others it is as good as not there. */
    private void requireAsked(Caller caller, long number, String step) {
        Optional<Run> run = runs.find(number);
        Optional<Step.Approval> approval = run.map(runs::jobOf)
                .filter(Job.Chain.class::isInstance)
                .flatMap(chain -> ((Job.Chain) chain).step(step))
                .filter(found -> found.work() instanceof Step.Approval)
                .map(found -> (Step.Approval) found.work());
        if (approval.isEmpty()) {
            // says no more than any other call would
            access.visible(caller, number);
            throw Refusal.conflict("step " + step + " of run " + number + " asks nobody");
        }
        if (!approvals.mayDecide(caller, approval.get(), run.orElseThrow())) {
            access.visible(caller, number);
            boolean own = approval.get().others() && run.get().starter().equals(caller.name());
            throw Refusal.notAllowed(
                    own
                            ? "you started run " + number + ", and somebody else is to decide"
                            : "to decide takes the role "
                                    + approval.get().role().word() + " in the team "
                                    + approval.get().team());
        }
    }

    private ChainSight.Seen want(
            Caller caller,
            long number,
            Deed deed,
            Wishes.Kind kind,
            String step,
            ChainWants.Wanted wanted,
            String words) {
        transaction.executeWithoutResult(status -> {
            Run run = deed == null ? runs.find(number).orElseThrow() : access.visible(caller, number, deed);
            if (kind == Wishes.Kind.GO_ON || kind == Wishes.Kind.SKIP) {
                requireParts(caller, run);
            }
            wants.trouble(run, kind, step, wanted).ifPresent(why -> {
                throw Refusal.conflict(why);
            });
            wishes.want(number, kind, step, wants.written(wanted), caller.name(), clock.instant());
            changes.record(caller, words, "run", String.valueOf(number), access.team(run), run.jobName());
        });
        durability.sync();
        await(number);
        return transaction.execute(status -> {
            Run run = runs.find(number).orElseThrow();
            // who was only asked learns nothing else of another team's chain
            return caller.may(Deed.SEE_RUNS, access.team(run)) ? sight.of(caller, run) : ChainSight.Seen.NOTHING;
        });
    }

    /** Who goes on with a chain starts what comes in it. */
    private void requireParts(Caller caller, Run run) {
        if (runs.jobOf(run) instanceof Job.Chain chain) {
            chain.parts(part -> jobs.named(part).map(jobs::current))
                    .forEach(part -> caller.require(Deed.START_RUNS, part.team()));
        }
    }

    /** The engine does it as soon as it can; who asked is told how it went, where that is soon enough. */
    private void await(long number) {
        for (int i = 0; i < LOOKS && wishes.isOpen(number); i++) {
            try {
                Thread.sleep(LOOK_MILLIS);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return;
            }
        }
    }

    private static ChainWants.Wanted noted(NoteBody body) {
        return new ChainWants.Wanted(false, note(body == null ? null : body.note()), Map.of());
    }

    private static String note(String text) {
        String note = text == null ? "" : text.strip();
        if (note.length() > LONGEST_NOTE) {
            throw new InvalidException("note", "too long: " + note.length() + " characters, at most " + LONGEST_NOTE);
        }
        return note;
    }
}
