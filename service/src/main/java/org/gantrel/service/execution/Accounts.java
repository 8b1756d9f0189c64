package org.gantrel.service.execution;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.action.Command;
import org.gantrel.service.durable.Transactions;
import org.springframework.stereotype.Component;

/** Says whether the service can act as accounts of this host. */
@Component
public class Accounts {

    private final Account own = Account.own();

    /** The account of this process; its number where it has no name, as in a container. */
    public static String own() {
        String name = System.getProperty("user.name");
        if (!name.equals("?")) {
            return name;
        }
        try {
            return String.valueOf(Files.getAttribute(Path.of("/proc/self"), "unix:uid"));
        } catch (IOException | UnsupportedOperationException | IllegalArgumentException e) {
            return name;
        }
    }

    /** Why nothing can be done as an account of this host. */
    public Optional<String> complaint(String name) {
        return complaint(name, Map.of());
    }

    /** Why commands cannot run as one: they bring what their jobs say of their environment, which takes a right more. */
    public Optional<String> commandComplaint(String name) {
        return complaint(name, Map.of(Launcher.ENVIRONMENT, ""));
    }

    private Optional<String> complaint(String name, Map<String, String> environment) {
        assert Transactions.none() : "another program is asked in a transaction";
        Optional<Account> account = Account.named(name);
        if (account.isEmpty()) {
            return Optional.of("this host has no account '" + name + "'");
        }
        List<String> prefix = account.get().prefix(own, environment);
        return prefix.isEmpty() || Programs.succeeds(prefix, Command.of("true").arguments())
                ? Optional.empty()
                : Optional.of("the service runs as " + own.name() + ", which may not act as " + name
                        + "; a sudo rule without a password, which lets the environment through, would let it: "
                        + own.name()
                        + " ALL=(" + name + ") NOPASSWD:SETENV: ALL");
    }
}
