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
import java.util.Optional;
import java.util.Properties;
import java.util.ServiceLoader;
import java.util.stream.Stream;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.core.credential.DatabaseAddress;
import org.gantrel.service.settings.Settings;
import org.springframework.stereotype.Component;

/** Signs in to databases by JDBC. Drivers for H2 and PostgreSQL come with the service, others from a folder. */
@Component
public class Databases {

    private static final int SIGN_IN_SECONDS = 10;
    private static final String HELD_AT_A_TIME = "32M";
    private static final int MOST_FETCHED = 1_000;

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
        DatabaseAddress.complaint(url, settings.reach().databases()).ifPresent(complaint -> {
            throw new WorkFailed(complaint);
        });
        var properties = new Properties();
        if (!credential.fact("user").isEmpty()) {
            properties.setProperty("user", credential.fact("user"));
            properties.setProperty("password", credential.secret("password"));
        }
        if (url.startsWith("jdbc:postgresql:")) {
            // a bind value that is a text takes the type of its column
            properties.setProperty("stringtype", "unspecified");
            properties.setProperty("loginTimeout", String.valueOf(SIGN_IN_SECONDS));
            // so much of an answer is held at a time: rows that are wide come in fewer, and one that is wider is
            // refused
            properties.setProperty("maxResultBuffer", HELD_AT_A_TIME);
            properties.setProperty("defaultRowFetchSize", String.valueOf(SqlExecutor.FETCHED_AT_ONCE));
            properties.setProperty("adaptiveFetch", "true");
            properties.setProperty("adaptiveFetchMaximum", String.valueOf(MOST_FETCHED));
        }
        return driver(url).connect(url, properties);
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
