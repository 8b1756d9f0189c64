package org.gantrel.service.execution;

import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import org.gantrel.service.run.RunValues;

/** Covers secret values wherever a command printed them. */
public final class Mask {

    private final List<String> secrets;

    private Mask(Collection<String> secrets) {
        // the longest first, so that a secret within another does not leave the rest of it readable
        this.secrets = secrets.stream()
                .filter(secret -> !secret.isBlank())
                .sorted(Comparator.comparingInt(String::length).reversed())
                .toList();
    }

    /** Covers these texts. */
    public static Mask of(Collection<String> secrets) {
        return new Mask(secrets);
    }

    /** What is to be covered where a text is read line by line: the longest first, a line each. */
    public static String lines(Collection<String> secrets) {
        return String.join(
                "\n",
                new Mask(secrets.stream().flatMap(String::lines).distinct().toList()).secrets);
    }

    public static Mask of(Map<String, String> secrets) {
        return new Mask(secrets.values());
    }

    public String over(String text) {
        String masked = text;
        for (String secret : secrets) {
            masked = masked.replace(secret, RunValues.MASK);
        }
        return masked;
    }
}
