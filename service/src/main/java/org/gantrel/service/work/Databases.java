package org.gantrel.service.work;

import java.io.IOException;
import java.net.MalformedURLException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.Driver;
import java.sql.SQLException;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Properties;
import java.util.ServiceLoader;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.service.settings.Settings;
import org.springframework.stereotype.Component;

/** Signs in to databases by JDBC. Drivers for H2 and PostgreSQL come with the service, others from a folder. */
@Component
public class Databases {

    private static final int SIGN_IN_SECONDS = 10;
    /** The file of an embedded H2 database, behind the names of file systems such as {@code file:nio:}. */
    private static final Pattern H2_FILE = Pattern.compile("^jdbc:h2:(?!mem:|tcp:|ssl:)(?:[A-Za-z0-9]+:)*([^;]+)");

    private final Settings settings;
    private List<Driver> drivers = List.of();

    Databases(Settings settings) {
        this.settings = settings;
    }

    /**
     * A connection as somebody.
     *
     * @throws SQLException where the database cannot be reached or refuses
     */
    public Connection connect(Credential credential) throws SQLException {
        if (credential.kind() != CredentialKind.DATABASE) {
            throw new WorkFailed("statements cannot act as " + credential.kind().word());
        }
        String url = credential.fact("url");
        refuseOwn(url);
        var properties = new Properties();
        if (!credential.fact("user").isEmpty()) {
            properties.setProperty("user", credential.fact("user"));
            properties.setProperty("password", credential.secret("password"));
        }
        if (url.startsWith("jdbc:postgresql:")) {
            // a bind value that is a text takes the type of its column
            properties.setProperty("stringtype", "unspecified");
            properties.setProperty("loginTimeout", String.valueOf(SIGN_IN_SECONDS));
        }
        return driver(url).connect(url, properties);
    }

    /** The service's own database is nobody's to work on, and an address must not carry statements. */
    private void refuseOwn(String url) {
        boolean own = H2_FILE.matcher(url).results().anyMatch(file -> real(Path.of(
                        file.group(1).replaceFirst("^~", System.getProperty("user.home"))))
                .startsWith(real(settings.data())));
        if (own || url.toUpperCase(Locale.ROOT).contains("INIT=")) {
            throw new WorkFailed("the address " + url + " is not allowed");
        }
    }

    /** A path as the disk has it, however it was written; the last part need not be there. */
    private static Path real(Path path) {
        Path plain = path.toAbsolutePath().normalize();
        try {
            return Files.isDirectory(plain)
                    ? plain.toRealPath()
                    : plain.getParent().toRealPath().resolve(plain.getFileName());
        } catch (IOException e) {
            return plain;
        }
    }

    /** A jar that was put into the folder since the drivers were read is found as well. */
    private synchronized Driver driver(String url) throws SQLException {
        Optional<Driver> known = among(drivers, url);
        if (known.isEmpty()) {
            drivers = ServiceLoader.load(Driver.class, loader()).stream()
                    .map(ServiceLoader.Provider::get)
                    .toList();
            known = among(drivers, url);
        }
        return known.orElseThrow(() -> new WorkFailed("there is no driver for "
                + url.replaceFirst("(jdbc:[^:]*:).*", "$1...") + "; put its jar into " + folder()));
    }

    private static Optional<Driver> among(List<Driver> drivers, String url) throws SQLException {
        for (Driver driver : drivers) {
            if (driver.acceptsURL(url)) {
                return Optional.of(driver);
            }
        }
        return Optional.empty();
    }

    private Path folder() {
        return settings.data().resolve("drivers");
    }

    private ClassLoader loader() {
        if (!Files.isDirectory(folder())) {
            return Databases.class.getClassLoader();
        }
        try (Stream<Path> jars = Files.list(folder())) {
            URL[] urls = jars.filter(jar -> jar.toString().endsWith(".jar"))
                    .map(Databases::url)
                    .toArray(URL[]::new);
            return new URLClassLoader(urls, Databases.class.getClassLoader());
        } catch (IOException e) {
            throw new WorkFailed("the drivers in " + folder() + " cannot be read: " + e.getMessage());
        }
    }

    private static URL url(Path jar) {
        try {
            return jar.toUri().toURL();
        } catch (MalformedURLException e) {
            throw new IllegalStateException(e);
        }
    }
}
