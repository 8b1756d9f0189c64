package org.gantrel.service.remote;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyString;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Map;
import java.util.concurrent.atomic.AtomicInteger;
import org.apache.sshd.client.SshClient;
import org.apache.sshd.client.channel.ChannelExec;
import org.apache.sshd.client.session.ClientSession;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.demo.HarbourHost;
import org.gantrel.service.Await;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("A connection to a host that many use")
class RemoteHostTest {

    private static final Duration LONG = Duration.ofSeconds(30);

    @TempDir
    Path folder;

    private final SshClient client = SshClient.setUpDefaultClient();
    private final AtomicInteger connections = new AtomicInteger();
    private HarbourHost harbour;
    private RemoteHost host;

    @BeforeEach
    void open() throws IOException {
        harbour = new HarbourHost(0, folder.resolve("home"), folder.resolve("key"), "hush");
        client.setServerKeyVerifier((session, address, key) -> true);
        client.start();
        var quay = new Credential("quay", CredentialKind.SSH, Map.of("host", "quay.example.org"), Map.of());
        host = new RemoteHost(quay, credential -> connect(), Duration.ofSeconds(1));
    }

    private ClientSession connect() throws IOException {
        connections.incrementAndGet();
        ClientSession session = client.connect(HarbourHost.USER, "127.0.0.1", harbour.port())
                .verify(LONG)
                .getSession();
        session.addPasswordIdentity("hush");
        session.auth().verify(LONG);
        return session;
    }

    @AfterEach
    void shut() throws IOException {
        host.close();
        client.stop();
        harbour.close();
    }

    @Test
    @DisplayName("stays when a question hangs on the host, so that nobody else is disturbed")
    void staysForOthers() throws Exception {
        ChannelExec other = host.start("read line; echo \"$line\"");
        assertThatThrownBy(() -> host.run("sleep 20\n")).hasMessage("quay.example.org does not answer");
        other.getInvertedIn().write("still here\n".getBytes(StandardCharsets.UTF_8));
        other.getInvertedIn().flush();
        try (var said = new BufferedReader(new InputStreamReader(other.getInvertedOut(), StandardCharsets.UTF_8))) {
            assertThat(said.readLine()).isEqualTo("still here");
        }
        host.closed();
        String there = folder.toString();
        assertThat(host.<Boolean>withFiles(files -> files.below(there).isFolder(there)))
                .isTrue();
        assertThat(host.run("echo fine\n").text()).isEqualTo("fine");
        assertThat(connections).hasValue(1);
    }

    private boolean answers() {
        try {
            return host.run("echo fine\n").text().equals("fine") && connections.get() == 2;
        } catch (IOException e) {
            return false;
        } catch (InterruptedException e) {
            throw new AssertionError(e);
        }
    }

    @Test
    @DisplayName("is made anew when it is lost")
    void isMadeAnew() throws Exception {
        assertThat(host.run("echo fine\n").text()).isEqualTo("fine");
        harbour.drop();
        Await.until("it answers again", this::answers);
        assertThat(connections).hasValue(2);
    }

    @Test
    @DisplayName("is lost, and nothing else, where it is being closed while something is asked of it")
    void isBeingClosed() throws Exception {
        var closing = mock(ClientSession.class);
        var why = new IllegalStateException("Channel id=1 not registered because session is being closed");
        when(closing.isOpen()).thenReturn(true);
        when(closing.createExecChannel(anyString())).thenThrow(why);
        when(closing.createDirectTcpipChannel(any(), any())).thenThrow(why);
        var quay = new Credential("quay", CredentialKind.SSH, Map.of("host", "quay.example.org"), Map.of());
        var lost = new RemoteHost(quay, credential -> closing, Duration.ofSeconds(1));
        // more often than there are channels: each is given back
        for (int i = 0; i < 20; i++) {
            assertThatThrownBy(() -> lost.run("true\n"))
                    .isInstanceOf(IOException.class)
                    .hasMessage("the connection to quay.example.org was lost");
            assertThatThrownBy(() -> lost.start("true")).isInstanceOf(IOException.class);
            assertThatThrownBy(() -> lost.open("127.0.0.1", 80)).isInstanceOf(IOException.class);
        }
    }
}
