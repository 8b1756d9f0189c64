package org.gantrel.service.settings;

import java.io.IOException;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.InvalidKeyException;
import java.security.PrivateKey;
import java.security.Signature;
import java.security.SignatureException;
import java.security.cert.X509Certificate;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.problem.Problem;
import org.springframework.boot.ssl.pem.PemContent;

/**
 * The certificates and the private key that the service shows by TLS, in PEM (RFC 7468). What does not fit together would let
 * it start, and nobody in.
 */
public final class TlsFiles {

    private static final byte[] PROOF = {7, 3, 1};

    private TlsFiles() {}

    /** What keeps the files from being used; nothing where they are fine. */
    static Optional<Problem> problem(Path certificates, Path key) {
        X509Certificate first;
        try {
            first = first(certificates);
        } catch (IOException | RuntimeException e) {
            return Optional.of(Problem.of(
                    "tls-cert", "'" + certificates + "': certificates in PEM (BEGIN CERTIFICATE) would be right"));
        }
        try {
            PrivateKey read =
                    Optional.ofNullable(PemContent.load(key).getPrivateKey()).orElseThrow();
            return belongs(read, first)
                    ? Optional.empty()
                    : Optional.of(Problem.of(
                            "tls-key",
                            "'" + key + "' is not the key of the first certificate in " + certificates
                                    + "; with several, the service's own comes first"));
        } catch (IOException | GeneralSecurityException | RuntimeException e) {
            return Optional.of(
                    Problem.of("tls-key", "'" + key + "': a private key in PEM without a passphrase would be right"));
        }
    }

    /** That the first certificate is good at no such time; nothing where it is. Clients will say so, so it only is warned of. */
    public static Optional<String> warning(Path certificates, Instant now) {
        try {
            X509Certificate first = first(certificates);
            Instant until = first.getNotAfter().toInstant();
            Instant from = first.getNotBefore().toInstant();
            return until.isBefore(now)
                    ? Optional.of("the certificate in " + certificates + " was good until " + until)
                    : Optional.of("the certificate in " + certificates + " is good from " + from + " on")
                            .filter(said -> from.isAfter(now));
        } catch (IOException | RuntimeException e) {
            return Optional.empty();
        }
    }

    private static X509Certificate first(Path file) throws IOException {
        List<X509Certificate> all = PemContent.load(file).getCertificates();
        return all.get(0);
    }

    /** Whether what one signs is what the other takes. */
    private static boolean belongs(PrivateKey key, X509Certificate certificate) throws GeneralSecurityException {
        String algorithm =
                switch (key.getAlgorithm()) {
                    case "RSA" -> "SHA256withRSA";
                    case "RSASSA-PSS" -> "RSASSA-PSS";
                    case "EC" -> "SHA256withECDSA";
                    case "DSA" -> "SHA256withDSA";
                    default -> key.getAlgorithm();
                };
        if (algorithm.equals("RSASSA-PSS")) {
            // it wants parameters of its own; such a key is taken as it is
            return certificate.getPublicKey().getAlgorithm().startsWith("RSA");
        }
        try {
            var signs = Signature.getInstance(algorithm);
            signs.initSign(key);
            signs.update(PROOF);
            byte[] signed = signs.sign();
            var takes = Signature.getInstance(algorithm);
            takes.initVerify(certificate.getPublicKey());
            takes.update(PROOF);
            return takes.verify(signed);
        } catch (InvalidKeyException | SignatureException e) {
            // a key of another kind
            return false;
        }
    }
}
