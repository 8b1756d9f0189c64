package org.gantrel.service.secret;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.GeneralSecurityException;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.Base64;
import javax.crypto.Cipher;
import javax.crypto.SecretKey;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.SecretKeySpec;
import org.gantrel.service.settings.Settings;
import org.springframework.stereotype.Component;

/** Seals texts with AES-256-GCM (NIST SP 800-38D) under a key that is kept in a file beside the database, not in it. */
@Component
public class Seal {

    private static final int NONCE_BYTES = 12;
    private static final int TAG_BITS = 128;

    private final SecretKey key;
    private final SecureRandom random = new SecureRandom();

    Seal(Settings settings) throws IOException {
        this.key = new SecretKeySpec(keyBytes(settings.keyFile()), "AES");
    }

    /** A text that only this installation can open; the empty text stays empty. */
    public String seal(String text) {
        if (text.isEmpty()) {
            return "";
        }
        byte[] nonce = new byte[NONCE_BYTES];
        random.nextBytes(nonce);
        byte[] sealed = run(Cipher.ENCRYPT_MODE, nonce, text.getBytes(StandardCharsets.UTF_8));
        byte[] all = ByteBuffer.allocate(nonce.length + sealed.length)
                .put(nonce)
                .put(sealed)
                .array();
        return Base64.getEncoder().encodeToString(all);
    }

    /** The text that was sealed. */
    public String open(String sealed) {
        if (sealed.isEmpty()) {
            return "";
        }
        byte[] all = Base64.getDecoder().decode(sealed);
        byte[] nonce = Arrays.copyOf(all, NONCE_BYTES);
        byte[] rest = Arrays.copyOfRange(all, NONCE_BYTES, all.length);
        return new String(run(Cipher.DECRYPT_MODE, nonce, rest), StandardCharsets.UTF_8);
    }

    private byte[] run(int mode, byte[] nonce, byte[] text) {
        try {
            Cipher cipher = Cipher.getInstance("AES/GCM/NoPadding");
            cipher.init(mode, key, new GCMParameterSpec(TAG_BITS, nonce));
            return cipher.doFinal(text);
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("a sealed value cannot be opened with the key of this installation", e);
        }
    }

    private static byte[] keyBytes(Path file) throws IOException {
        if (Files.exists(file)) {
            return Base64.getDecoder().decode(Files.readString(file).strip());
        }
        byte[] bytes = new byte[32];
        new SecureRandom().nextBytes(bytes);
        Files.createFile(file, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
        Files.writeString(file, Base64.getEncoder().encodeToString(bytes), StandardOpenOption.SYNC);
        return bytes;
    }
}
