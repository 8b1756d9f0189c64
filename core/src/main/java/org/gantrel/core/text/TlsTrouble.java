package org.gantrel.core.text;

import java.security.cert.CertPathBuilderException;
import java.security.cert.CertificateException;
import java.security.cert.CertificateExpiredException;
import java.security.cert.CertificateNotYetValidException;
import java.util.HashSet;
import java.util.Optional;
import javax.net.ssl.SSLException;

/** Why a connection over TLS did not come about, in words: the platform's own speak of its parts. */
public final class TlsTrouble {

    private TlsTrouble() {}

    /**
     * What to say of a failure.
     *
     * @return a clause of which the other side is the subject; nothing where TLS is not what failed
     */
    public static Optional<String> of(Throwable failure) {
        var seen = new HashSet<Throwable>();
        Optional<String> found = Optional.empty();
        for (Throwable each = failure; each != null && seen.add(each); each = each.getCause()) {
            // the innermost says most
            found = said(each).isPresent() ? said(each) : found;
        }
        return found;
    }

    private static Optional<String> said(Throwable cause) {
        String message = String.valueOf(cause.getMessage());
        if (cause instanceof CertificateExpiredException) {
            return Optional.of("has a certificate that has expired");
        }
        if (cause instanceof CertificateNotYetValidException) {
            return Optional.of("has a certificate that is not valid yet");
        }
        if (cause instanceof CertPathBuilderException) {
            return Optional.of("has a certificate that nobody whom this host trusts has signed");
        }
        if (cause instanceof CertificateException) {
            return Optional.of(
                    message.startsWith("No ")
                            ? "has a certificate for another name"
                            : "has a certificate that cannot be trusted");
        }
        if (cause instanceof SSLException) {
            return Optional.of(
                    message.contains("Unsupported or unrecognized")
                            ? "does not speak TLS"
                            : "did not agree on a way to speak TLS");
        }
        return Optional.empty();
    }
}
