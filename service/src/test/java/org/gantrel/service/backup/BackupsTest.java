package org.gantrel.service.backup;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import org.gantrel.core.event.EventType;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.MovableClock;
import org.gantrel.service.TestSettings;
import org.gantrel.service.hold.Holds;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.run.Run;
import org.gantrel.service.team.Caller;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("The installation is backed up")
class BackupsTest {

    private final MovableClock clock = new MovableClock(Instant.parse("2026-11-23T11:00:00Z"));

    @TempDir
    private Path folder;

    @Test
    @DisplayName("once a day while it works, the newest are kept, and a service stands up again from one and its key")
    void isMadeAndPutBack() throws IOException {
        Path to = folder.resolve("backups");
        Path again = Files.createDirectories(folder.resolve("again"));
        Run underway;
        Run after;
        try (var service = LiveService.fresh(
                Files.createDirectories(folder.resolve("first")),
                clock,
                settings -> TestSettings.withBackup(settings, to))) {
            Backups backups = service.bean(Backups.class);
            Await.until("the first is there", () -> backups.all().size() == 1);
            service.task("settle", "true", "");
            service.task("long", "until test -e " + folder + "/go; do sleep 0.1; done", "");
            underway = service.underway(service.start("long"));
            after = service.start("long");
            for (int day = 0; day < 3; day++) {
                assertThat(backups.next().orElseThrow()).isAfter(clock.instant());
                clock.moveBy(Duration.ofDays(1));
                backups.look();
            }
            assertThat(backups.all())
                    .extracting(Backups.Backup::at)
                    .containsExactly(Instant.parse("2026-11-26T11:00:00Z"), Instant.parse("2026-11-25T11:00:00Z"));
            Path newest = to.resolve(backups.all().get(0).name());
            service.define("task: peeks\nteam: revenue\ndoes: { checks: [ { name: there, file: " + newest + " } ] }\n");
            assertThat(service.ended(service.start("peeks")).message()).contains("nothing that a job may reach");
            assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(newest)))
                    .isEqualTo("rw-------");
            service.task("later", "true", "");
            Files.writeString(folder.resolve("go"), "");
            service.ended(underway);
            service.ended(after);
            unpack(newest, again.resolve("data"));
            Files.copy(service.data().resolve("key"), again.resolve("data/key"));
        }
        try (var service = LiveService.onWhatIsThere(again, clock)) {
            Jobs jobs = service.bean(Jobs.class);
            assertThat(jobs.named("settle")).isPresent();
            assertThat(jobs.named("later")).isEmpty();
            // what was under way is not begun again, and nothing else before somebody has looked
            assertThat(service.ended(underway).message()).startsWith("it was under way when the backup was made");
            Run held = service.start("settle");
            for (Run each : List.of(after, held)) {
                Await.until(
                        "it is held",
                        () -> service.found(each.number()).waitingFor().contains("put back"));
            }
            assertThat(Files.exists(service.folder(underway))).isFalse();
            Holds holds = service.bean(Holds.class);
            holds.open().forEach(hold -> holds.end(LiveService.SERVICE, hold.id()));
            assertThat(service.ended(held).state()).isEqualTo(RunState.SUCCEEDED);
            assertThat(service.ended(after).state()).isEqualTo(RunState.SUCCEEDED);
            assertThat(again.resolve("data/put-back")).doesNotExist();
        }
    }

    private static void unpack(Path zip, Path to) throws IOException {
        Files.createDirectories(to);
        try (var in = new ZipInputStream(Files.newInputStream(zip))) {
            for (ZipEntry entry = in.getNextEntry(); entry != null; entry = in.getNextEntry()) {
                Files.copy(in, to.resolve(entry.getName()));
            }
        }
    }

    @Test
    @DisplayName("or it is told why not, once until it works again; half a backup is never there")
    void fails() throws IOException {
        Path to = Files.writeString(folder.resolve("no-folder"), "a file");
        try (var service = LiveService.fresh(folder, clock, settings -> TestSettings.withBackup(settings, to))) {
            Backups backups = service.bean(Backups.class);
            BackupApi api = service.bean(BackupApi.class);
            Await.until("it is known", () -> backups.trouble().isPresent());
            assertThat(backups.next()).contains(clock.instant().plus(Duration.ofHours(1)));
            assertThatThrownBy(() -> api.make(LiveService.SERVICE)).hasMessageContaining("FileAlreadyExistsException");
            assertThat(told(service, EventType.BACKUP_FAILED)).isEqualTo(1);
            Files.delete(to);
            // what others put into the folder is neither followed nor written to
            Path others = Files.writeString(folder.resolve("others"), "theirs");
            Files.createSymbolicLink(Files.createDirectories(to).resolve(".gantrel.part"), others);
            assertThat(api.make(LiveService.SERVICE).bytes()).isPositive();
            assertThat(told(service, EventType.BACKUP_MADE)).isEqualTo(1);
            assertThat(api.list(LiveService.SERVICE).trouble()).isNull();
            assertThat(Files.list(to)).hasSize(1);
            assertThat(others).hasContent("theirs");
            assertThat(service.data().resolve("backup.part")).doesNotExist();
            Caller viewer = new Caller("lea.moss", "Lea Moss", false, Map.of());
            assertThatThrownBy(() -> api.list(viewer)).hasMessageContaining("administrator");
        }
    }

    private static long told(LiveService service, EventType type) {
        return service.bean(Journal.class).after(0, 1_000).stream()
                .filter(event -> event.type().equals(type.type()))
                .count();
    }
}
