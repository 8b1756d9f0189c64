package org.gantrel.core.text;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.security.cert.CertPathBuilderException;
import java.security.cert.CertificateException;
import java.security.cert.CertificateExpiredException;
import java.security.cert.CertificateNotYetValidException;
import javax.net.ssl.SSLException;
import javax.net.ssl.SSLHandshakeException;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("Trouble with TLS")
class TlsTroubleTest {

    private static String said(Throwable... chain) {
        for (int i = chain.length - 1; i > 0; i--) {
            chain[i - 1].initCause(chain[i]);
        }
        return TlsTrouble.of(new IOException(chain[0])).orElse("nothing");
    }

    @Test
    @DisplayName("is said in words by what lies at the bottom of it, and nothing else is taken for it")
    void isSaid() {
        var handshake = "PKIX path building failed";
        assertThat(said(
                        new SSLHandshakeException(handshake),
                        new CertificateException(handshake),
                        new CertPathBuilderException("x")))
                .isEqualTo("has a certificate that nobody whom this host trusts has signed");
        assertThat(said(new SSLHandshakeException("x"), new CertificateExpiredException("NotAfter: ...")))
                .isEqualTo("has a certificate that has expired");
        assertThat(said(new SSLHandshakeException("x"), new CertificateNotYetValidException("NotBefore: ...")))
                .isEqualTo("has a certificate that is not valid yet");
        assertThat(said(new SSLHandshakeException("x"), new CertificateException("No name matching a found")))
                .isEqualTo("has a certificate for another name");
        assertThat(said(new CertificateException("odd"))).isEqualTo("has a certificate that cannot be trusted");
        assertThat(said(new SSLException("Unsupported or unrecognized SSL message")))
                .isEqualTo("does not speak TLS");
        assertThat(said(new SSLHandshakeException("no cipher suites in common")))
                .isEqualTo("did not agree on a way to speak TLS");
        assertThat(said(new IOException("connection reset"))).isEqualTo("nothing");
        var circle = new IOException("a");
        circle.initCause(new IOException("b", circle));
        assertThat(TlsTrouble.of(circle)).isEmpty();
    }
}
