package org.gantrel.service.web;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.Properties;

/** Which version this is, as the build wrote it down. */
final class Version {

    static final String OURS = read();

    private Version() {}

    private static String read() {
        try (InputStream in = Version.class.getResourceAsStream("/version.properties")) {
            var properties = new Properties();
            properties.load(in);
            return properties.getProperty("version");
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
