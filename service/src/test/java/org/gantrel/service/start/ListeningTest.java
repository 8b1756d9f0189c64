package org.gantrel.service.start;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("Where the service listens")
class ListeningTest {

    @Test
    @DisplayName("is looked at first, and what is wrong with it is said in words")
    void complains() throws IOException {
        try (var other = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            assertThat(Listening.complaint("127.0.0.1", other.getLocalPort()))
                    .contains("port " + other.getLocalPort()
                            + " on 127.0.0.1 is in use; stop what uses it, or choose another with --port");
        }
        assertThat(Listening.complaint("127.0.0.1", 0)).isEmpty();
        assertThat(Listening.complaint("::1", 0).orElse("")).doesNotContain("Exception");
        // an address that is kept for documents (RFC 5737)
        assertThat(Listening.complaint("192.0.2.7", 0))
                .contains("192.0.2.7 is no address of this host; --address names one to listen on");
        assertThat(Listening.complaint("no such host", 0).orElse("")).startsWith("there is no address 'no such host'");
    }
}
