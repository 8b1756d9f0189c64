package org.gantrel.service.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse.BodyHandlers;
import java.util.List;
import org.gantrel.service.settings.Settings;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.core.env.Environment;

@DisplayName("Where a request goes")
class DestinationsTest {

    private final Settings settings = mock(Settings.class);
    private final Environment environment = mock(Environment.class);
    private final Destinations destinations = new Destinations(settings, environment);

    DestinationsTest() {
        when(settings.reach()).thenReturn(new Settings.Reach(List.of(), List.of(), List.of("192.0.2.0/24")));
        when(environment.getProperty(any(), any(), any())).thenReturn(8170);
    }

    @ParameterizedTest(name = "{0}: {1} for {2}")
    @CsvSource({
        "http://localhost:9/a%20b?c=d%26e, http://127.0.0.1:9/a%20b?c=d%26e, localhost:9",
        "http://localhost, http://127.0.0.1, localhost",
        "http://127.0.0.1:9/x, http://127.0.0.1:9/x,",
        "https://localhost:9/x, https://localhost:9/x,"
    })
    @DisplayName(
            "is the address that was judged, whatever the name stands for a moment later; over TLS the name is proven")
    void isPinned(String asked, String address, String host) {
        Destinations.Way way = destinations.way(URI.create(asked));
        assertThat(way.address()).hasToString(address);
        assertThat(way.host().orElse(null)).isEqualTo(host);
    }

    @ParameterizedTest
    @CsvSource({
        "http://localhost:8170/api", "http://192.0.2.7/", "http://169.254.169.254/", "http://[::]/", "http://0.0.0.0/",
        "http://2852039166/", "http://[::ffff:169.254.169.254]/", "ftp://localhost/", "http:///x", "http://no.invalid/"
    })
    @DisplayName("is nowhere that a job must not reach")
    void isRefused(String asked) {
        assertThatThrownBy(() -> destinations.way(URI.create(asked))).isInstanceOf(WorkFailed.class);
    }

    @Test
    @DisplayName("is told the name that it is for, or the one that the request says by itself")
    void saysTheName() throws IOException, InterruptedException {
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        server.createContext("/", exchange -> {
            byte[] said = exchange.getRequestHeaders().getFirst("Host").getBytes();
            exchange.sendResponseHeaders(200, said.length);
            exchange.getResponseBody().write(said);
            exchange.close();
        });
        server.start();
        try {
            URI uri = URI.create("http://localhost:" + server.getAddress().getPort() + "/x");
            HttpClient client = HttpClient.newHttpClient();
            HttpRequest request = HttpRequest.newBuilder(uri).build();
            assertThat(client.send(destinations.way(uri).lead(request), BodyHandlers.ofString())
                            .body())
                    .isEqualTo(uri.getAuthority());
            HttpRequest own = HttpRequest.newBuilder(uri)
                    .header("Host", "kiosk.example.org")
                    .build();
            assertThat(client.send(destinations.way(uri).lead(own), BodyHandlers.ofString())
                            .body())
                    .isEqualTo("kiosk.example.org");
        } finally {
            server.stop(0);
        }
    }
}
