package org.gantrel.service.execution;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.action.Command;
import org.springframework.stereotype.Component;

/** Says whether the service can act as accounts of this host. */
@Component
public class Accounts {

    private final Account own = Account.own();

    /** Why commands cannot run as an account of this host. */
    public Optional<String> complaint(String name) {
        Optional<Account> account = Account.named(name);
        if (account.isEmpty()) {
            return Optional.of("this host has no account '" + name + "'");
        }
        List<String> prefix = account.get().prefix(own, Map.of());
        return prefix.isEmpty() || Programs.succeeds(prefix, Command.of("true").arguments())
                ? Optional.empty()
                : Optional.of("the service runs as " + own.name() + ", which may not act as " + name
                        + "; a sudo rule without a password would let it");
    }
}
