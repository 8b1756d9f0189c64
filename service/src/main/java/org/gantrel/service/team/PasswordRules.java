package org.gantrel.service.team;

import com.nulabinc.zxcvbn.Zxcvbn;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.gantrel.core.problem.InvalidException;

/**
 * What a password must be (NIST SP 800-63B, 5.1.1.2): long enough, and none that is guessed early, by the lists of common
 * passwords, words, names and keyboard rows that zxcvbn carries.
 */
final class PasswordRules {

    static final int SHORTEST = 12;
    /** BCrypt reads no more than 72 bytes. */
    static final int LONGEST_BYTES = 72;

    /** Of 0 to 4; what has less is guessed within a million tries. */
    private static final int LEAST_SCORE = 2;

    private PasswordRules() {}

    /**
     * Checks a password for an account.
     *
     * @throws InvalidException saying what would be right
     */
    static void check(String password, String name, String fullName) {
        complaint(password, name, fullName).ifPresent(complaint -> {
            throw new InvalidException("password", complaint);
        });
    }

    /** What is wrong with a password for an account; nothing where it may be one. */
    static Optional<String> complaint(String password, String name, String fullName) {
        int bytes = password.getBytes(StandardCharsets.UTF_8).length;
        if (password.codePointCount(0, password.length()) < SHORTEST || bytes > LONGEST_BYTES) {
            return Optional.of(
                    "at least " + SHORTEST + " characters and at most " + LONGEST_BYTES + " bytes are needed");
        }
        if (password.toLowerCase(Locale.ROOT).contains(name)) {
            return Optional.of("holds the account's name, which is guessed first");
        }
        if (new Zxcvbn().measure(password, List.of(name, fullName, "gantrel")).getScore() < LEAST_SCORE) {
            return Optional.of("is one of those that are guessed first; several unrelated words would be right");
        }
        return Optional.empty();
    }
}
