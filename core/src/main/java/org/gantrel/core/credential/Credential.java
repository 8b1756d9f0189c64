package org.gantrel.core.credential;

import java.util.Map;

/**
 * An identity that a run acts as, opened for use.
 *
 * @param facts what may be shown of it
 * @param secrets what may not
 */
public record Credential(String name, CredentialKind kind, Map<String, String> facts, Map<String, String> secrets) {

    public Credential {
        facts = Map.copyOf(facts);
        secrets = Map.copyOf(secrets);
    }

    /** A fact; the empty text where it has none. */
    public String fact(String what) {
        return facts.getOrDefault(what, "");
    }

    /** A secret part; the empty text where it has none. */
    public String secret(String what) {
        return secrets.getOrDefault(what, "");
    }

    /** Whom it stands for, as a run shows it. */
    public String identity() {
        return switch (kind) {
            case ACCOUNT -> fact("account");
            case HTTP_BASIC, DATABASE -> fact("user").isEmpty() ? name : fact("user") + " (" + name + ")";
            case SSH -> fact("user") + "@" + fact("host");
            case MAIL -> fact("from");
            case HTTP_BEARER, HTTP_HEADER, SECRET -> name;
        };
    }

    @Override
    public String toString() {
        return "credential " + name;
    }
}
