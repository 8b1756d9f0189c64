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
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Properties;
import java.util.ServiceLoader;
import java.util.stream.Stream;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.service.settings.Settings;
import org.springframework.stereotype.Component;

/** Signs in to databases by JDBC. Drivers for H2 and PostgreSQL come with the service, others from a folder. */
@Component
public class Databases {

    private static final int SIGN_IN_SECONDS = 10;

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
        // PostgreSQL: a bind value that is a text takes the type of its column
        properties.setProperty("stringtype", "unspecified");
        properties.setProperty("loginTimeout", String.valueOf(SIGN_IN_SECONDS));
        if (url.startsWith("jdbc:h2:")) {
            properties.remove("stringtype");
            properties.remove("loginTimeout");
        }
        return driver(url).connect(url, properties);
    }

    /** The service's own database is nobody's to work on, and an address must not carry statements. */
    private void refuseOwn(String url) {
        String plain = url.toUpperCase(Locale.ROOT);
        if (plain.contains(settings.databaseFile().toString().toUpperCase(Locale.ROOT)) || plain.contains("INIT=")) {
            throw new WorkFailed("the address " + url + " is not allowed");
        }
    }

    private Driver driver(String url) throws SQLException {
        for (Driver driver : drivers()) {
            if (driver.acceptsURL(url)) {
                return driver;
            }
        }
        throw new WorkFailed("there is no driver for " + url.replaceFirst("(jdbc:[^:]*:).*", "$1...")
                + "; put its jar into " + folder());
    }

    private Path folder() {
        return settings.data().resolve("drivers");
    }

    private synchronized List<Driver> drivers() {
        if (drivers.isEmpty()) {
            var found = new ArrayList<Driver>();
            ServiceLoader.load(Driver.class, loader()).forEach(found::add);
            drivers = List.copyOf(found);
        }
        return drivers;
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
