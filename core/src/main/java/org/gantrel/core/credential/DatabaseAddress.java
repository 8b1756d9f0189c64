package org.gantrel.core.credential;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.gantrel.core.text.Words;

/**
 * Addresses of databases that jobs may work on: those of servers. A database that is opened within the service's own
 * process could read its records and run code with its rights, and so could many properties that drivers know; so the
 * addresses are taken apart, and only properties that are known to be harmless are let through.
 */
public final class DatabaseAddress {

    private static final Pattern H2 = Pattern.compile(
            "jdbc:h2:(?:tcp|ssl)://([A-Za-z0-9.-]+|\\[[0-9A-Fa-f:.]+])(?::(\\d{1,5}))?/([A-Za-z0-9_./:~-]+)(?:;(.*))?");
    private static final Pattern POSTGRESQL =
            Pattern.compile("jdbc:postgresql://([A-Za-z0-9.,:\\[\\]-]+)/([A-Za-z0-9_.%-]*)(?:\\?(.*))?");
    private static final Pattern PROPERTY = Pattern.compile("([A-Za-z_]+)=([A-Za-z0-9_.,:%/+-]*)");
    private static final Pattern REST = Pattern.compile("[A-Za-z0-9_./-]*");

    private static final Set<String> OF_H2 = new TreeSet<>(List.of(
            "IFEXISTS",
            "MODE",
            "SCHEMA",
            "LOCK_TIMEOUT",
            "NETWORK_TIMEOUT",
            "CASE_INSENSITIVE_IDENTIFIERS",
            "DATABASE_TO_LOWER",
            "DATABASE_TO_UPPER",
            "NON_KEYWORDS",
            "DB_CLOSE_DELAY"));
    private static final Set<String> OF_POSTGRESQL = new TreeSet<>(List.of(
            "ssl",
            "sslmode",
            "connectTimeout",
            "socketTimeout",
            "loginTimeout",
            "tcpKeepAlive",
            "ApplicationName",
            "currentSchema",
            "targetServerType",
            "loadBalanceHosts",
            "prepareThreshold",
            "defaultRowFetchSize",
            "reWriteBatchedInserts",
            "readOnly",
            "stringtype"));

    private DatabaseAddress() {}

    /**
     * What speaks against working on a database; nothing where it may be.
     *
     * @param listed what addresses may begin with beside those of H2's and PostgreSQL's servers, by an administrator
     */
    public static Optional<String> complaint(String url, List<String> listed) {
        Matcher h2 = H2.matcher(url);
        if (h2.matches()) {
            return properties(h2.group(4), ";", OF_H2, true);
        }
        Matcher postgresql = POSTGRESQL.matcher(url);
        if (postgresql.matches()) {
            return properties(postgresql.group(3), "&", OF_POSTGRESQL, false);
        }
        boolean embedded = url.toLowerCase(Locale.ROOT).startsWith("jdbc:h2:");
        boolean isListed = !embedded
                && listed.stream()
                        .anyMatch(prefix -> url.startsWith(prefix)
                                && REST.matcher(url.substring(prefix.length())).matches());
        if (isListed) {
            return Optional.empty();
        }
        return Optional.of("this address is not allowed: those of servers are, such as"
                + " jdbc:postgresql://db.example.org/tickets or jdbc:h2:tcp://db.example.org/tickets, and what an"
                + " administrator lists in the setting 'databases'");
    }

    private static Optional<String> properties(String text, String between, Set<String> known, boolean anyCase) {
        if (text == null || text.isEmpty()) {
            return Optional.empty();
        }
        var unknown = new ArrayList<String>();
        for (String each : Arrays.asList(text.split(between, -1))) {
            Matcher property = PROPERTY.matcher(each);
            String name = property.matches() ? property.group(1) : "";
            if (!known.contains(anyCase ? name.toUpperCase(Locale.ROOT) : name)) {
                unknown.add(name.isEmpty() ? "a part that is no NAME=VALUE" : "'" + name + "'");
            }
        }
        return unknown.isEmpty()
                ? Optional.empty()
                : Optional.of("this address is not allowed, since it holds " + Words.list(unknown)
                        + "; these properties may be in it: " + String.join(", ", known));
    }
}
