package org.gantrel.service.mail;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.ServerSetup;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import org.gantrel.service.settings.Settings.Mail;
import org.gantrel.service.settings.Settings.Mail.Encryption;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.mail.SimpleMailMessage;
import org.springframework.mail.javamail.JavaMailSenderImpl;

@DisplayName("A mail server")
class SmtpSenderTest {

    private static JavaMailSenderImpl sender(int port, Encryption encryption) {
        return SmtpSender.to(new Mail("127.0.0.1", port, "harbour@example.org", encryption, "", "", List.of()));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {"220 | a", "220-a\\n | 220-a\\n", "220 ready\\n250-a | 250-a\\n"})
    @DisplayName("that does not end its answer is not listened to for ever")
    void isNotListenedTo(String first, String ever) throws IOException {
        try (var server = new ServerSocket(0, 5, InetAddress.getLoopbackAddress())) {
            var said = CompletableFuture.supplyAsync(() -> {
                long bytes = 0;
                byte[] more = ever.replace("\\n", "\r\n").repeat(10_000).getBytes(StandardCharsets.US_ASCII);
                try (Socket socket = server.accept();
                        OutputStream out = socket.getOutputStream()) {
                    out.write(first.replace("\\n", "\r\n").getBytes(StandardCharsets.US_ASCII));
                    for (; bytes < 1L << 30; bytes += more.length) {
                        out.write(more);
                    }
                } catch (IOException e) {
                    // nobody listens any more
                    return bytes;
                }
                return bytes;
            });
            assertThatThrownBy(
                            () -> sender(server.getLocalPort(), Encryption.NONE).testConnection())
                    .hasStackTraceContaining("the server says more than 262144 bytes for an answer");
            assertThat(said.join()).isLessThan(64 << 20);
        }
    }

    @ParameterizedTest
    @CsvSource({"smtp, NONE", "smtps, TLS"})
    @DisplayName("gets many mails over one connection, with TLS and without")
    void getsMails(String protocol, Encryption encryption) throws Exception {
        var server = new GreenMail(new ServerSetup(0, "127.0.0.1", protocol));
        server.start();
        try {
            int port = (encryption == Encryption.TLS ? server.getSmtps() : server.getSmtp()).getPort();
            JavaMailSenderImpl sender = sender(port, encryption);
            // its certificate is nobody's
            sender.getJavaMailProperties().setProperty("mail.smtps.ssl.trust", "*");
            sender.getJavaMailProperties().setProperty("mail.smtps.ssl.checkserveridentity", "false");
            var mails = new SimpleMailMessage[300];
            for (int i = 0; i < mails.length; i++) {
                mails[i] = new SimpleMailMessage();
                mails[i].setFrom("harbour@example.org");
                mails[i].setTo("crew-" + i % 7 + "@example.org");
                mails[i].setText("a line\n".repeat(300));
            }
            sender.send(mails);
            assertThat(server.getReceivedMessages()).hasSize(mails.length);
        } finally {
            server.stop();
        }
    }

    @Test
    @DisplayName("that shows a certificate which nobody vouches for gets nothing")
    void isJudged() {
        var server = new GreenMail(new ServerSetup(0, "127.0.0.1", "smtps"));
        server.start();
        try {
            assertThatThrownBy(() ->
                            sender(server.getSmtps().getPort(), Encryption.TLS).testConnection())
                    .hasStackTraceContaining("unable to find valid certification path");
        } finally {
            server.stop();
        }
    }
}
