package org.gantrel.service.start;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import org.gantrel.service.durable.DatabaseUrl;
import org.gantrel.service.secret.RandomToken;
import org.gantrel.service.settings.Settings;

/** The password of the service's own database: random, and in a file beside the key that only the service's account reads. */
final class OwnDatabase {

    static final String USER = "gantrel";

    private OwnDatabase() {}

    /** The password; made at the first start, and set at the first start on a database that had none. */
    static String password(Settings settings) throws IOException {
        Path file = settings.databasePasswordFile();
        if (Files.exists(file)) {
            return Files.readString(file).strip();
        }
        Path fresh = file.resolveSibling(file.getFileName() + ".new");
        if (!Files.exists(fresh)) {
            write(fresh, RandomToken.make(""));
        }
        String password = Files.readString(fresh).strip();
        if (Files.exists(Path.of(settings.databaseFile() + ".mv.db"))) {
            change(DatabaseUrl.of("", settings.databaseFile()), password);
        }
        move(fresh, file);
        return password;
    }

    /** A start that broke off in between finds the password set already. */
    private static void change(String url, String password) throws IOException {
        try (Connection connection = DriverManager.getConnection(url, USER, "");
                Statement statement = connection.createStatement()) {
            statement.execute("alter user " + USER + " set password '" + password + "'");
            statement.execute("checkpoint sync");
        } catch (SQLException e) {
            try {
                DriverManager.getConnection(url, USER, password).close();
            } catch (SQLException still) {
                throw new IOException("the database cannot be opened: " + still.getMessage(), e);
            }
        }
    }

    private static void write(Path file, String text) throws IOException {
        Path part = file.resolveSibling(file.getFileName() + ".part");
        Files.deleteIfExists(part);
        Files.createFile(part, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
        Files.writeString(part, text);
        try (FileChannel channel = FileChannel.open(part, StandardOpenOption.WRITE)) {
            channel.force(true);
        }
        move(part, file);
    }

    /** A name that a power cut took back would leave a database that nobody can open, so the folder is forced as well. */
    private static void move(Path from, Path to) throws IOException {
        Files.move(from, to, StandardCopyOption.ATOMIC_MOVE);
        try (FileChannel folder = FileChannel.open(to.getParent(), StandardOpenOption.READ)) {
            folder.force(true);
        }
    }
}
