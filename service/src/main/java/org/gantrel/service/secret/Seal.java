package org.gantrel.service.secret;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.FileAttribute;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.GeneralSecurityException;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import javax.crypto.Cipher;
import javax.crypto.SecretKey;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.SecretKeySpec;
import org.gantrel.service.settings.Settings;
import org.springframework.stereotype.Component;

/** Seals texts with AES-256-GCM (NIST SP 800-38D) under keys that are kept in a file beside the database, not in it. */
@Component
public class Seal {

    private static final int NONCE_BYTES = 12;
    private static final int TAG_BITS = 128;
    private static final FileAttribute<Set<PosixFilePermission>> OWNER_ONLY =
            PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------"));

    /** The newest first; what was sealed under an older one can still be opened. */
    private volatile List<SecretKey> keys;

    private final Path file;
    private final SecureRandom random = new SecureRandom();

    Seal(Settings settings) throws IOException {
        this.file = settings.keyFile();
        this.keys = read(file);
    }

    /** Makes a new key, under which all is sealed from now on; the older ones stay until they are dropped. */
    public synchronized void makeKey() throws IOException {
        var all = new ArrayList<SecretKey>();
        all.add(new SecretKeySpec(freshBytes(), "AES"));
        all.addAll(keys);
        write(all);
        keys = List.copyOf(all);
    }

    /** Forgets all keys but the newest: nothing may be sealed under them any more. */
    public synchronized void dropOldKeys() throws IOException {
        List<SecretKey> newest = keys.subList(0, 1);
        write(newest);
        keys = List.copyOf(newest);
    }

    /** A text that only this installation can open; the empty text stays empty. */
    public String seal(String text) {
        if (text.isEmpty()) {
            return "";
        }
        byte[] nonce = new byte[NONCE_BYTES];
        random.nextBytes(nonce);
        byte[] sealed;
        try {
            sealed = run(keys.get(0), Cipher.ENCRYPT_MODE, nonce, text.getBytes(StandardCharsets.UTF_8));
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException("every Java platform has AES-GCM", e);
        }
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
        for (SecretKey key : keys) {
            try {
                return new String(run(key, Cipher.DECRYPT_MODE, nonce, rest), StandardCharsets.UTF_8);
            } catch (GeneralSecurityException e) {
                // sealed under another key, which comes next
                continue;
            }
        }
        throw new IllegalStateException("a sealed value cannot be opened with the keys of this installation");
    }

    private static byte[] run(SecretKey key, int mode, byte[] nonce, byte[] text) throws GeneralSecurityException {
        Cipher cipher = Cipher.getInstance("AES/GCM/NoPadding");
        cipher.init(mode, key, new GCMParameterSpec(TAG_BITS, nonce));
        return cipher.doFinal(text);
    }

    private static List<SecretKey> read(Path file) throws IOException {
        if (!Files.exists(file)) {
            Files.createFile(file, OWNER_ONLY);
            Files.writeString(file, text(freshBytes()), StandardOpenOption.SYNC);
        }
        var keys = new ArrayList<SecretKey>();
        for (String line : Files.readAllLines(file)) {
            if (!line.isBlank()) {
                keys.add(new SecretKeySpec(Base64.getDecoder().decode(line.strip()), "AES"));
            }
        }
        return List.copyOf(keys);
    }

    /** Writes beside and moves, so that there is always a whole file. */
    private void write(List<SecretKey> all) throws IOException {
        Path fresh = file.resolveSibling(file.getFileName() + ".new");
        Files.deleteIfExists(fresh);
        Files.createFile(fresh, OWNER_ONLY);
        String lines = all.stream().map(key -> text(key.getEncoded())).collect(Collectors.joining("\n", "", "\n"));
        Files.writeString(fresh, lines, StandardOpenOption.SYNC);
        Files.move(fresh, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
    }

    private static String text(byte[] bytes) {
        return Base64.getEncoder().encodeToString(bytes);
    }

    private static byte[] freshBytes() {
        byte[] bytes = new byte[32];
        new SecureRandom().nextBytes(bytes);
        return bytes;
    }
}
