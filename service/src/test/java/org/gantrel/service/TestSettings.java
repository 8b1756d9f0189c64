package org.gantrel.service;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.gantrel.service.settings.Settings;

/** What a service in a test is set up with. */
public final class TestSettings {

    private TestSettings() {}

    /** A data folder below another one, and any port that is free. */
    public static Settings in(Path folder, int runsAtOnce) throws IOException {
        Settings usual = Settings.usual(Files.createDirectories(folder.resolve("data")));
        return new Settings(
                usual.data(),
                usual.address(),
                0,
                usual.url(),
                runsAtOnce,
                usual.leastFreeSpace(),
                usual.grace(),
                usual.mail(),
                usual.demo());
    }
}
