package org.gantrel.service.secret;

import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.util.HexFormat;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/** Signatures over what systems say to each other. */
public final class Hmac {

    private static final String ALGORITHM = "HmacSHA256";

    private Hmac() {}

    /** HMAC (RFC 2104) with SHA-256, in hexadecimal digits. */
    public static String hex(String secret, byte[] said) {
        try {
            Mac mac = Mac.getInstance(ALGORITHM);
            mac.init(new SecretKeySpec(secret.getBytes(StandardCharsets.UTF_8), ALGORITHM));
            return HexFormat.of().formatHex(mac.doFinal(said));
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException(e);
        }
    }

    /** The same of a text. */
    public static String hex(String secret, String said) {
        return hex(secret, said.getBytes(StandardCharsets.UTF_8));
    }
}
