package org.gantrel.service.trigger;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.text.Words;
import org.gantrel.core.trigger.CallGuard;
import org.gantrel.core.trigger.CallGuard.Proof;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.secret.Hmac;
import org.springframework.stereotype.Component;

/**
 * Says whether a call from outside shows what its trigger asks for: a token as {@code Authorization: Bearer} (RFC 6750) or in
 * the header that the credential names, or {@code Gantrel-Time} with {@code Gantrel-Signature: sha256=} and the HMAC over the
 * time, a dot and the body.
 */
@Component
class CallProof {

    private static final String SIGNATURE = "sha256=";

    private final Credentials credentials;
    private final Clock clock;

    CallProof(Credentials credentials, Clock clock) {
        this.credentials = credentials;
        this.clock = clock;
    }

    /** Why a call may not come; nothing where it may. */
    Optional<String> complaint(Listening to, byte[] body, Function<String, String> header) {
        CallGuard guard = to.trigger().source().calls().orElseThrow();
        Credential credential;
        try {
            credential = credentials.useAgain(guard.credential(), to.team(), to.jobName());
        } catch (Refusal gone) {
            return Optional.of("its credential cannot be used: " + gone.getMessage());
        }
        return guard.proof() == Proof.TOKEN ? token(credential, header) : signature(guard, credential, body, header);
    }

    private static Optional<String> token(Credential credential, Function<String, String> header) {
        Map<String, String> asked = credential.httpHeaders().isEmpty()
                ? Map.of("Authorization", "Bearer " + secret(credential))
                : credential.httpHeaders();
        boolean shown = asked.entrySet().stream()
                .allMatch(each -> same(each.getValue(), Optional.ofNullable(header.apply(each.getKey()))));
        return shown ? Optional.empty() : Optional.of("it does not show the token");
    }

    private Optional<String> signature(
            CallGuard guard, Credential credential, byte[] body, Function<String, String> header) {
        String time = Optional.ofNullable(header.apply("Gantrel-Time")).orElse("");
        if (!time.matches("\\d{1,12}")) {
            return Optional.of("it does not say in Gantrel-Time when it was made, in seconds since 1970");
        }
        byte[] before = (time + ".").getBytes(StandardCharsets.UTF_8);
        byte[] signed = new byte[before.length + body.length];
        System.arraycopy(before, 0, signed, 0, before.length);
        System.arraycopy(body, 0, signed, before.length, body.length);
        if (!same(
                SIGNATURE + Hmac.hex(secret(credential), signed),
                Optional.ofNullable(header.apply("Gantrel-Signature")))) {
            return Optional.of("its signature is not right");
        }
        Duration off = Duration.between(Instant.ofEpochSecond(Long.parseLong(time)), clock.instant())
                .abs();
        return off.compareTo(guard.within()) <= 0
                ? Optional.empty()
                : Optional.of("it was made " + Words.duration(off) + " from now; " + Words.duration(guard.within())
                        + " are allowed");
    }

    private static String secret(Credential credential) {
        return credential.secrets().values().stream().findFirst().orElseThrow();
    }

    /** Takes as long whether they are the same or not. */
    private static boolean same(String wanted, Optional<String> shown) {
        return shown.isPresent()
                && MessageDigest.isEqual(
                        wanted.getBytes(StandardCharsets.UTF_8), shown.get().getBytes(StandardCharsets.UTF_8));
    }
}
