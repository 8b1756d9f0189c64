package org.gantrel.core.credential;

import java.nio.charset.StandardCharsets;
import java.util.Base64;
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

    /** The headers by which a request acts as it (RFC 7617, RFC 6750); none where requests cannot. */
    public Map<String, String> httpHeaders() {
        return switch (kind) {
            case HTTP_BASIC ->
                Map.of(
                        "Authorization",
                        "Basic "
                                + Base64.getEncoder()
                                        .encodeToString((fact("user") + ":" + secret("password"))
                                                .getBytes(StandardCharsets.UTF_8)));
            case HTTP_BEARER -> Map.of("Authorization", "Bearer " + secret("token"));
            case HTTP_HEADER -> Map.of(fact("header"), secret("value"));
            default -> Map.of();
        };
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
