package org.gantrel.service.execution;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;

/**
 * An account of this host that a command runs as.
 *
 * @param uid its number; 0 may do everything
 */
record Account(String name, long uid, String home) {

    private static final long PATIENCE_SECONDS = 5;

    /** The account of a name, as the host's own databases know it (getent(1)). */
    static Optional<Account> named(String name) {
        try {
            // the name comes from a credential; a leading dash must not become an option
            Process process = new ProcessBuilder("getent", "passwd", "--", name)
                    .redirectErrorStream(true)
                    .start();
            String line = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8).strip();
            String[] fields = line.split(":");
            boolean found = process.waitFor(PATIENCE_SECONDS, TimeUnit.SECONDS)
                    && process.exitValue() == 0
                    && fields.length >= 6
                    && fields[0].equals(name);
            return found ? Optional.of(new Account(name, Long.parseLong(fields[2]), fields[5])) : Optional.empty();
        } catch (IOException | NumberFormatException e) {
            return Optional.empty();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return Optional.empty();
        }
    }

    /** The account of the service itself. */
    static Account own() {
        String name = Accounts.own();
        return named(name).orElse(new Account(name, -1, System.getProperty("user.home")));
    }

    boolean isPrivileged() {
        return uid == 0;
    }

    /**
     * What stands before a command so that it runs as this account, with its groups: setpriv(1) where the service may do
     * everything, a rule of sudo(8) that asks for no password, and lets the environment through, where it may not.
     */
    List<String> prefix(Account service, Map<String, String> environment) {
        if (service.name().equals(name)) {
            return List.of();
        }
        if (service.isPrivileged()) {
            return List.of("setpriv", "--reuid=" + name, "--regid=" + group(), "--init-groups", "--no-new-privs", "--");
        }
        var prefix = new ArrayList<>(List.of("sudo", "-n", "-u", name));
        if (!environment.isEmpty()) {
            prefix.add("--preserve-env=" + String.join(",", environment.keySet()));
        }
        prefix.add("--");
        return prefix;
    }

    /** What of the environment belongs to the account. */
    Map<String, String> environment() {
        return Map.of("HOME", home, "USER", name, "LOGNAME", name);
    }

    private String group() {
        try {
            Process process = new ProcessBuilder("id", "-g", "--", name).start();
            return new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8).strip();
        } catch (IOException e) {
            return "nogroup";
        }
    }
}
