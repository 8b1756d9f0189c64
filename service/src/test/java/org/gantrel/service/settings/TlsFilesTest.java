package org.gantrel.service.settings;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.List;
import org.gantrel.core.problem.Problem;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("The files that the service shows by TLS")
class TlsFilesTest {

    private static final String SECRET = "hush-hush-7";

    @TempDir
    private static Path folder;

    @BeforeAll
    static void make() throws Exception {
        for (String kind : List.of("RSA", "EC", "Ed25519")) {
            make(kind, kind);
        }
        make("other", "RSA");
        Files.writeString(folder.resolve("junk.pem"), "no PEM\n");
    }

    private static void make(String name, String algorithm) throws Exception {
        Path store = folder.resolve(name + ".p12");
        var line = List.of(
                Path.of(System.getProperty("java.home"), "bin", "keytool").toString(),
                "-genkeypair",
                "-alias",
                "own",
                "-keyalg",
                algorithm,
                "-dname",
                "CN=gantrel.example.org",
                "-validity",
                "30",
                "-keystore",
                store.toString(),
                "-storepass",
                SECRET);
        assertThat(new ProcessBuilder(line).redirectErrorStream(true).start().waitFor())
                .isZero();
        KeyStore keys = KeyStore.getInstance("PKCS12");
        try (InputStream in = Files.newInputStream(store)) {
            keys.load(in, SECRET.toCharArray());
        }
        write(name + ".crt", "CERTIFICATE", keys.getCertificate("own").getEncoded());
        byte[] key = keys.getKey("own", SECRET.toCharArray()).getEncoded();
        write(name + ".key", "PRIVATE KEY", key);
        write(name + ".locked", "ENCRYPTED PRIVATE KEY", key);
    }

    private static void write(String name, String what, byte[] bytes) throws Exception {
        String body = Base64.getMimeEncoder(64, new byte[] {'\n'}).encodeToString(bytes);
        Files.writeString(
                folder.resolve(name), "-----BEGIN %1$s-----\n%2$s\n-----END %1$s-----\n".formatted(what, body));
    }

    @ParameterizedTest(name = "{0} and {1}: {2}")
    @CsvSource({
        "RSA.crt, RSA.key, ",
        "EC.crt, EC.key, ",
        "Ed25519.crt, Ed25519.key, ",
        "RSA.crt, other.key, is not the key of the first certificate",
        "RSA.crt, EC.key, is not the key of the first certificate",
        "RSA.crt, RSA.locked, a private key in PEM without a passphrase",
        "RSA.crt, RSA.crt, a private key in PEM without a passphrase",
        "RSA.crt, junk.pem, a private key in PEM without a passphrase",
        "RSA.key, RSA.key, certificates in PEM",
        "junk.pem, RSA.key, certificates in PEM"
    })
    @DisplayName("are refused where nobody could come in by them")
    void problems(String certificates, String key, String sentence) {
        var found = TlsFiles.problem(folder.resolve(certificates), folder.resolve(key));
        if (sentence == null) {
            assertThat(found).isEmpty();
        } else {
            assertThat(found.map(Problem::sentence))
                    .hasValueSatisfying(said -> assertThat(said).contains(sentence));
        }
    }

    @Test
    @DisplayName("are warned of where the certificate is not good yet, or any more")
    void warnings() {
        Path certificate = folder.resolve("RSA.crt");
        Instant now = Instant.now();
        assertThat(TlsFiles.warning(certificate, now)).isEmpty();
        assertThat(TlsFiles.warning(certificate, now.plus(Duration.ofDays(31))))
                .hasValueSatisfying(said -> assertThat(said).contains("was good until"));
        assertThat(TlsFiles.warning(certificate, now.minus(Duration.ofDays(2))))
                .hasValueSatisfying(said -> assertThat(said).contains("is good from"));
    }
}
