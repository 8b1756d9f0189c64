package org.gantrel.service.demo;

import jakarta.persistence.EntityManager;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.gantrel.core.notification.NotificationRule.Urgency;
import org.gantrel.core.notification.QuietHours;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.durable.Turn;
import org.gantrel.service.imports.Imports;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.notification.PeopleSay;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Teams;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/** Fills an empty database with the demo's world before the engine and the courier begin. */
@Component
class DemoStart implements SmartLifecycle {

    /** The reader of the journal that tells people. */
    private static final String MESSAGES = "mails";

    private final Settings settings;
    private final Teams teams;
    private final Credentials credentials;
    private final PeopleSay people;
    private final Journal journal;
    private final Imports imports;
    private final DemoHistory history;
    private final EntityManager entities;
    private final Turn turn;
    private final TransactionTemplate transaction;
    private final Clock clock;
    private boolean running;

    DemoStart(
            Settings settings,
            Teams teams,
            Credentials credentials,
            PeopleSay people,
            Journal journal,
            Imports imports,
            DemoHistory history,
            EntityManager entities,
            Turn turn,
            TransactionTemplate transaction,
            Clock clock) {
        this.settings = settings;
        this.teams = teams;
        this.credentials = credentials;
        this.people = people;
        this.journal = journal;
        this.imports = imports;
        this.history = history;
        this.entities = entities;
        this.turn = turn;
        this.transaction = transaction;
        this.clock = clock;
    }

    /** Earlier than the engine and the courier, which have the latest phase. */
    @Override
    public int getPhase() {
        return 0;
    }

    @Override
    public void start() {
        running = true;
        settings.demo().filter(demo -> teams.hasNobody()).ifPresent(demo -> {
            try {
                fill(demo);
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        });
    }

    @Override
    public void stop() {
        running = false;
    }

    @Override
    public boolean isRunning() {
        return running;
    }

    private void fill(Settings.Demo demo) throws IOException {
        World world = World.read(demo.folder().resolve("world.yaml"));
        List<Imports.DefinitionFile> files = definitions(demo.folder().resolve("definitions"));
        Instant now = clock.instant();
        turn.perform(() -> {
            settle(world);
            // what happens in the made-up past makes faults too
            journal.position(MESSAGES);
            imports.bringIn(Caller.service(), false, new Imports.ImportBody(files));
        });
        System.out.println("making " + demo.days() + " days of history ...");
        Instant begin = now.minus(Duration.ofDays(demo.days()));
        transaction.executeWithoutResult(status -> dateBack(begin.minusSeconds(60)));
        history.make(world, begin, now);
        transaction.executeWithoutResult(status -> forgetOldMails(now));
    }

    private void settle(World world) {
        Caller service = Caller.service();
        world.teams().forEach((name, about) -> teams.create(service, name, about));
        for (World.Inhabitant each : world.people()) {
            teams.createPerson(service, each.name(), each.fullName(), world.password(), each.administrator());
            var night = new QuietHours(
                    ZoneId.of("Europe/Oslo"),
                    each.sleeps() ? LocalTime.of(22, 0) : LocalTime.MIDNIGHT,
                    each.sleeps() ? LocalTime.of(7, 0) : LocalTime.MIDNIGHT,
                    Urgency.URGENT);
            people.say(each.name(), each.mail(), night, "");
            each.roles().forEach((team, role) -> teams.setRole(service, team, each.name(), role));
        }
        world.credentials().forEach((name, draft) -> credentials.keep(service, name, draft));
    }

    /** What a past was made with is older than that past. */
    private void dateBack(Instant then) {
        for (String what : List.of("JobRevision", "CalendarRevision")) {
            entities.createQuery("update " + what + " r set r.madeAt = :then")
                    .setParameter("then", then)
                    .executeUpdate();
        }
    }

    /** The mails of a made-up past went out then; none of them goes out now. */
    private void forgetOldMails(Instant now) {
        entities.createQuery("update DeliveryRecord d set d.state = 'SENT', d.tries = 1, d.sentAt = d.madeAt,"
                        + " d.nextTryAt = null where d.madeAt < :now")
                .setParameter("now", now)
                .executeUpdate();
    }

    private static List<Imports.DefinitionFile> definitions(Path folder) throws IOException {
        var files = new ArrayList<Imports.DefinitionFile>();
        try (Stream<Path> found = Files.list(folder)) {
            for (Path file : found.sorted().toList()) {
                files.add(new Imports.DefinitionFile(file.getFileName().toString(), Files.readString(file)));
            }
        }
        return files;
    }
}
