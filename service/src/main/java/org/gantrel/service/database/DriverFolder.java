package org.gantrel.service.database;

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

/** Drivers of databases: those for H2 and PostgreSQL come with the service, others from a folder. */
final class DriverFolder {

    private static List<Driver> drivers = List.of();

    private DriverFolder() {}

    static Connection connect(String url, String folder, Properties properties) throws SQLException {
        return driver(url, Path.of(folder)).connect(url, properties);
    }

    /** A jar that was put into the folder since the drivers were read is found as well. */
    private static synchronized Driver driver(String url, Path folder) throws SQLException {
        Optional<Driver> known = among(url);
        if (known.isEmpty()) {
            drivers = ServiceLoader.load(Driver.class, loader(folder)).stream()
                    .map(ServiceLoader.Provider::get)
                    .toList();
            known = among(url);
        }
        return known.orElseThrow(() -> new DriverMissing("there is no driver for "
                + url.replaceFirst("(jdbc:[^:]*:).*", "$1...") + "; put its jar into " + folder));
    }

    private static Optional<Driver> among(String url) throws SQLException {
        for (Driver driver : drivers) {
            if (driver.acceptsURL(url)) {
                return Optional.of(driver);
            }
        }
        return Optional.empty();
    }

    private static ClassLoader loader(Path folder) {
        if (!Files.isDirectory(folder)) {
            return DriverFolder.class.getClassLoader();
        }
        try (Stream<Path> jars = Files.list(folder)) {
            URL[] urls = jars.filter(jar -> jar.toString().endsWith(".jar"))
                    .map(DriverFolder::url)
                    .toArray(URL[]::new);
            return new URLClassLoader(urls, DriverFolder.class.getClassLoader());
        } catch (IOException e) {
            throw new DriverMissing("the drivers in " + folder + " cannot be read: " + e.getMessage());
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
