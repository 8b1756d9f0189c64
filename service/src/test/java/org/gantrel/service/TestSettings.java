package org.gantrel.service;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.backup.BackupPlan;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.settings.Settings.Limits;

/** What a service in a test is set up with. */
public final class TestSettings {

    private TestSettings() {}

    /** A data folder below another one, and any port that is free. */
    public static Settings in(Path folder, int runsAtOnce) throws IOException {
        Settings usual = Settings.usual(Files.createDirectories(folder.resolve("data")));
        Limits limits = usual.limits();
        return with(
                usual,
                new Limits(
                        runsAtOnce, limits.sweepRows(), limits.leastFreeSpace(), limits.largestLog(), limits.grace()));
    }

    /** The same with a sweep that takes few rows. */
    public static Settings withSweepRows(Settings usual, int most) {
        Limits limits = usual.limits();
        return with(
                usual,
                new Limits(limits.runsAtOnce(), most, limits.leastFreeSpace(), limits.largestLog(), limits.grace()));
    }

    /** The same with a mail server on this host. */
    public static Settings withMail(Settings usual, int port) {
        return with(
                usual,
                usual.limits(),
                Optional.of(new Settings.Mail(
                        "127.0.0.1", port, "gantrel@example.org", Settings.Mail.Encryption.NONE, "", "", List.of())));
    }

    /** The same, backed up to a folder. */
    public static Settings withBackup(Settings usual, Path folder) {
        var plan = new BackupPlan(LocalTime.of(2, 30), ZoneOffset.UTC, 2);
        return with(usual, usual.limits(), usual.mail(), Optional.of(new Settings.Backup(folder, plan)));
    }

    private static Settings with(Settings usual, Limits limits) {
        return with(usual, limits, usual.mail());
    }

    private static Settings with(Settings usual, Limits limits, Optional<Settings.Mail> mail) {
        return with(usual, limits, mail, usual.backup());
    }

    private static Settings with(
            Settings usual, Limits limits, Optional<Settings.Mail> mail, Optional<Settings.Backup> backup) {
        return new Settings(
                usual.data(),
                usual.address(),
                0,
                usual.url(),
                usual.zone(),
                limits,
                usual.keep(),
                usual.runAs(),
                new Settings.Reach(List.of("jdbc:tide:", "jdbc:strange:"), List.of(), List.of()),
                usual.web(),
                mail,
                backup,
                usual.demo(),
                usual.said());
    }
}
