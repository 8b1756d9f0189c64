package org.gantrel.core.action;

import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/** Which work does something each time it is done, as RFC 9110, section 9.2.2, has it of requests. */
public final class Safety {

    private static final Set<String> REPEATABLE_METHODS = Set.of("GET", "HEAD", "PUT", "DELETE");

    private Safety() {}

    /** What is not safe to be done twice, in words; nothing where it is, as far as can be told. */
    public static Optional<String> unsafe(Action action) {
        if (action instanceof MailMessage) {
            return Optional.of("a mail");
        }
        if (action instanceof Request request && !REPEATABLE_METHODS.contains(request.method())) {
            return Optional.of("a request with " + request.method());
        }
        boolean writes = action instanceof Sql sql
                && sql.statements().stream()
                        .anyMatch(text -> !text.strip().toLowerCase(Locale.ROOT).matches("(?s)(select|values)\\b.*"));
        return writes ? Optional.of("a statement that writes") : Optional.empty();
    }
}
