package org.gantrel.service.work;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.Properties;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.core.credential.DatabaseAddress;
import org.gantrel.service.database.DatabaseProcesses;
import org.gantrel.service.database.DriverMissing;
import org.gantrel.service.durable.Transactions;
import org.gantrel.service.settings.Settings;
import org.springframework.stereotype.Component;

/** Signs in to databases by JDBC, where a job may. */
@Component
public class Databases {

    private static final Duration A_LOOK = Duration.ofSeconds(90);
    private static final int SIGN_IN_SECONDS = 10;
    private static final String HELD_AT_A_TIME = "32M";
    private static final int MOST_FETCHED = 1_000;

    private final Settings settings;
    private final DatabaseProcesses processes;

    Databases(Settings settings, DatabaseProcesses processes) {
        this.settings = settings;
        this.processes = processes;
    }

    /**
     * A connection as somebody, for a look at something.
     *
     * @throws SQLException where the database cannot be reached or refuses
     */
    public Connection connect(Credential credential) throws SQLException {
        return connect(credential, A_LOOK);
    }

    /** The same for work, which is left when it is to end at once. */
    Connection connect(Credential credential, Execution work) throws SQLException {
        Connection connection = connect(credential, work.patience());
        work.onEnd(() -> abort(connection));
        return connection;
    }

    private static void abort(Connection connection) {
        try {
            connection.abort(Runnable::run);
        } catch (SQLException e) {
            // it has ended by itself meanwhile
            return;
        }
    }

    private Connection connect(Credential credential, Duration patience) throws SQLException {
        assert Transactions.none() : "another system is asked in a transaction";
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
        try {
            return processes.connect(credential.name(), patience, url, properties);
        } catch (DriverMissing e) {
            throw new WorkFailed(e.getMessage());
        }
    }
}
