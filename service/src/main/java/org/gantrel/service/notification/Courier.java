package org.gantrel.service.notification;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;
import java.util.stream.Stream;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.aside.SetAside.Kind;
import org.gantrel.service.aside.SetAside.Thing;
import org.gantrel.service.durable.RoomToWrite;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.time.Presence;
import org.gantrel.service.time.PutBackSense;
import org.gantrel.service.time.RepeatedFault;
import org.gantrel.service.time.Threads;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Takes messages from the outbox to where they go. Each channel has a worker of its own while it has something to send, so
 * that a slow one keeps nobody else waiting. That the other side has taken a message is noted afterwards: should the
 * service die in between, it goes out twice rather than not at all.
 */
@Component
class Courier implements SmartLifecycle {

    private static final Logger LOG = LoggerFactory.getLogger(Courier.class);
    private static final Duration LONGEST_SLEEP = Duration.ofMinutes(1);
    private static final Duration PAUSE_AFTER_FAULT = Duration.ofSeconds(1);
    private static final Duration LAST_WORDS = Duration.ofSeconds(15);
    private static final int MOST_CHANNELS = 8;
    private static final int MOST_LISTED = 300;
    private static final int LOOKED_AHEAD = 4;

    private final RepeatedFault faults = new RepeatedFault(LOG);
    private final DeliveryStore store;
    private final Calls calls;
    private final Texts texts;
    private final SentNotes notes;
    private final MessageNews news;
    private final SetAside aside;
    private final Settings settings;
    private final RoomToWrite room;
    private final TransactionTemplate transaction;
    private final Clock clock;
    private final PutBackSense sense;
    private final Object bell = new Object();
    private final List<Supplier<Optional<Instant>>> before = new CopyOnWriteArrayList<>();
    private final Set<String> busy = ConcurrentHashMap.newKeySet();
    private ExecutorService workers;
    private boolean rung;
    private volatile Thread thread;

    Courier(
            DeliveryStore store,
            Calls calls,
            Texts texts,
            SentNotes notes,
            MessageNews news,
            SetAside aside,
            Settings settings,
            RoomToWrite room,
            TransactionTemplate transaction,
            Presence presence,
            Clock clock) {
        this.sense = new PutBackSense(presence.absence().from());
        this.store = store;
        this.calls = calls;
        this.texts = texts;
        this.notes = notes;
        this.news = news;
        this.aside = aside;
        this.settings = settings;
        this.room = room;
        this.transaction = transaction;
        this.clock = clock;
    }

    /**
     * Has something be done in the courier's thread each time before it looks at the outbox; it must not wait for others.
     *
     * @param task says when it wants to be asked again
     */
    void beforeEachLook(Supplier<Optional<Instant>> task) {
        before.add(task);
    }

    @Override
    public void start() {
        if (settings.mail().isEmpty()) {
            LOG.info("no mail server is set (mail-host), so mails wait in the outbox");
        }
        notes.channels().forEach(this::markLeft);
        workers = Threads.pool("courier", MOST_CHANNELS);
        thread = new Thread(this::run, "courier");
        thread.setDaemon(true);
        thread.start();
    }

    /** Marks what an earlier service has sent, and died before it was marked. */
    private void markLeft(String channel) {
        transaction.executeWithoutResult(status -> notes.left(channel)
                .forEach(note ->
                        store.sentBefore(note.id(), note.madeAt(), note.madeAt().plusMillis(1), note.sentAt())));
        notes.clear(notes.seal(channel));
    }

    @Override
    public void stop() {
        thread = null;
        ring();
        workers.shutdown();
        try {
            // what the other side has taken is to be written down, or it would go out again
            if (!workers.awaitTermination(LAST_WORDS.toSeconds(), TimeUnit.SECONDS)) {
                LOG.warn("a message is still under way; it may go out twice");
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    @Override
    public boolean isRunning() {
        return thread != null;
    }

    /** With the teller, which needs it; both go on until the engine has stopped. */
    @Override
    public int getPhase() {
        return Integer.MAX_VALUE - 1;
    }

    /** Looks at the outbox when what the transaction under way writes there can be seen. */
    void ringAfterCommit() {
        TransactionSynchronizationManager.registerSynchronization(new TransactionSynchronization() {
            @Override
            public void afterCommit() {
                ring();
            }
        });
    }

    /** Looks at the outbox now. */
    void ring() {
        synchronized (bell) {
            rung = true;
            bell.notifyAll();
        }
    }

    private void run() {
        while (thread == Thread.currentThread()) {
            try {
                Duration until = PAUSE_AFTER_FAULT;
                try {
                    // what is sent has to be written down, or it would go out again
                    if (room.complaint().isEmpty()) {
                        until = look();
                    }
                } catch (Throwable e) {
                    faults.met("the courier", e);
                }
                sleep(until);
            } catch (InterruptedException e) {
                return;
            }
        }
    }

    private Duration look() {
        Optional<Instant> wanted =
                before.stream().flatMap(task -> task.get().stream()).min(Comparator.naturalOrder());
        Instant now = clock.instant();
        if (sense.look(now).isPresent()) {
            // what is to go in a moment would wait for as long
            transaction.executeWithoutResult(status -> store.hastenAll(now));
        }
        store.dueChannels(now).stream().filter(this::canGo).forEach(this::begin);
        return untilNext(wanted);
    }

    private boolean canGo(String channel) {
        return !channel.equals(Message.MAIL) || settings.mail().isPresent();
    }

    private void begin(String channel) {
        if (busy.add(channel)) {
            workers.execute(() -> {
                try {
                    work(channel);
                } catch (Throwable e) {
                    LOG.error("messages by {} met a fault", channel, e);
                } finally {
                    busy.remove(channel);
                    // what has become due meanwhile is seen
                    ring();
                }
            });
        }
    }

    /** Sends what is due by one channel, until nothing is. */
    private void work(String channel) {
        if (channel.equals(Message.MAIL)) {
            try (var mails = new Mails(settings.mail().orElseThrow(), this::along)) {
                work(channel, mails);
            }
        } else {
            work(channel, calls::send);
        }
    }

    private void work(String channel, Sender sender) {
        try (var round = new Round(channel, store, notes, transaction, news::changed, clock)) {
            work(channel, sender, round);
        }
    }

    private void work(String channel, Sender sender, Round round) {
        boolean before = false;
        while (thread != null) {
            List<DeliveryRecord> due = round.due();
            boolean taken = false;
            int at = 0;
            int turn = 0;
            List<List<DeliveryRecord>> turns = together(due);
            for (List<DeliveryRecord> together : turns) {
                List<DeliveryRecord> next = due.subList(Math.min(at, due.size()), due.size());
                at += together.size();
                DeliveryRecord first = together.get(0);
                sender.next(likely(turns.subList(turn, Math.min(++turn + LOOKED_AHEAD, turns.size()))));
                var thing =
                        new Thing(Kind.DELIVERY, first.id(), "message " + first.id() + " to " + first.address(), "");
                var success = new boolean[1];
                aside.attempt(thing, () -> success[0] = deliver(sender, round, together, next));
                taken |= success[0];
                if (thread == null) {
                    return;
                }
            }
            round.mark();
            if (taken && !before) {
                before = true;
                transaction.executeWithoutResult(status -> store.hasten(channel, clock.instant()));
            }
            if (due.isEmpty() || !taken) {
                return;
            }
        }
    }

    /** What goes as it is; what goes together is written when it is its turn. */
    private static List<DeliveryRecord> likely(List<List<DeliveryRecord>> turns) {
        return turns.stream()
                .filter(together -> together.size() == 1)
                .map(together -> together.get(0))
                .toList();
    }

    /** Those that were held back, or could not go for long, go together where they go to the same place. */
    private List<List<DeliveryRecord>> together(List<DeliveryRecord> due) {
        Instant now = clock.instant();
        var all = new ArrayList<List<DeliveryRecord>>();
        Map<String, List<DeliveryRecord>> held = new LinkedHashMap<>();
        for (DeliveryRecord delivery : due) {
            if (delivery.gathers(now) && !delivery.kind().equals("gathered")) {
                held.computeIfAbsent(delivery.address(), key -> new ArrayList<>())
                        .add(delivery);
            } else {
                all.add(List.of(delivery));
            }
        }
        all.addAll(held.values());
        return all;
    }

    private boolean deliver(Sender sender, Round round, List<DeliveryRecord> chosen, Collection<DeliveryRecord> next) {
        List<DeliveryRecord> together = round.stillDue(chosen, next);
        if (together.isEmpty()) {
            return false;
        }
        boolean mail = together.get(0).channel().equals(Message.MAIL);
        DeliveryRecord delivery = together.size() == 1 || !mail ? together.get(0) : gather(together);
        boolean sent = send(sender, round, delivery);
        if (!mail) {
            for (DeliveryRecord other : together.subList(1, together.size())) {
                sent |= send(sender, round, other);
            }
        }
        return sent;
    }

    /** Writes the one message that stands for several; from then on these go nowhere by themselves. */
    private DeliveryRecord gather(List<DeliveryRecord> together) {
        return transaction.execute(status -> {
            Instant now = clock.instant();
            List<Map<String, Object>> items = together.stream()
                    .limit(MOST_LISTED)
                    .map(each ->
                            Map.<String, Object>of("sentence", each.subject(), "link", settings.url() + link(each)))
                    .toList();
            String why = together.size() == items.size()
                    ? "held back until they could go together"
                    : "of " + together.size() + " that were held back";
            Texts.Said said = texts.gathered(items, why);
            DeliveryRecord first = together.get(0);
            var message = new Message(
                    Message.MAIL,
                    first.address(),
                    "gathered",
                    first.rule(),
                    first.person(),
                    Optional.empty(),
                    first.run(),
                    first.teamId(),
                    said.subject(),
                    said.text(),
                    said.html());
            DeliveryRecord one = store.saveAndFlush(new DeliveryRecord(Optional.empty(), message, now, now));
            together.forEach(each -> store.findById(each.id()).ifPresent(known -> known.gathered(one.id(), now)));
            return one;
        });
    }

    private static String link(DeliveryRecord delivery) {
        return delivery.run().map(run -> "/runs/" + run).orElse("/notifications");
    }

    private boolean send(Sender sender, Round round, DeliveryRecord delivery) {
        String error = sender.send(delivery);
        if (error.isEmpty()) {
            round.taken(delivery);
            return true;
        }
        transaction.executeWithoutResult(status -> {
            store.findById(delivery.id())
                    .filter(DeliveryRecord::isWaiting)
                    .ifPresent(known -> known.failed(error, clock.instant()));
            news.changed(Set.of(delivery.teamOrNone()));
        });
        LOG.warn("message {} to {} was not taken: {}", delivery.id(), delivery.address(), error);
        return false;
    }

    private Attachments along(DeliveryRecord delivery) {
        return delivery.attach().isEmpty() || delivery.run().isEmpty()
                ? Attachments.NONE
                : Attachments.of(settings.runsFolder(), delivery.run().get(), delivery.attach());
    }

    private Duration untilNext(Optional<Instant> wanted) {
        Instant now = clock.instant();
        var not = new ArrayList<>(busy);
        if (settings.mail().isEmpty()) {
            not.add(Message.MAIL);
        }
        not.add("");
        Instant far = now.plus(LONGEST_SLEEP);
        Instant next = Stream.of(store.earliest(not), wanted, Optional.of(far))
                .flatMap(Optional::stream)
                .min(Comparator.naturalOrder())
                .get();
        Duration until = Duration.between(now, next);
        // one that is due all the time, because its record cannot be written, must not keep the thread busy
        boolean stuck = !aside.held(Kind.DELIVERY).isEmpty() || until.isNegative() || until.isZero();
        return stuck && until.compareTo(PAUSE_AFTER_FAULT) < 0 ? PAUSE_AFTER_FAULT : until;
    }

    private void sleep(Duration until) throws InterruptedException {
        Duration length = until.compareTo(LONGEST_SLEEP) > 0 ? LONGEST_SLEEP : until;
        synchronized (bell) {
            if (!rung && length.toMillis() > 0) {
                bell.wait(length.toMillis());
            }
            rung = false;
        }
    }
}
