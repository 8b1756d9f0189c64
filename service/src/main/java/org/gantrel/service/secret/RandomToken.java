package org.gantrel.service.secret;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.security.SecureRandom;
import java.util.Base64;
import java.util.HexFormat;

/** Secrets that nobody chose: 256 random bits. They are kept as a plain hash; a slow one is for passwords. */
public final class RandomToken {

    private static final SecureRandom RANDOM = new SecureRandom();

    private RandomToken() {}

    /** A new one, after a prefix by which people recognise what it is. */
    public static String make(String prefix) {
        byte[] bytes = new byte[32];
        RANDOM.nextBytes(bytes);
        return prefix + Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
    }

    /** What is kept of one: its SHA-256 in hexadecimal digits. */
    public static String hash(String token) {
        try {
            byte[] digest = MessageDigest.getInstance("SHA-256").digest(token.getBytes(StandardCharsets.UTF_8));
            return HexFormat.of().formatHex(digest);
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java platform has SHA-256", e);
        }
    }
}
