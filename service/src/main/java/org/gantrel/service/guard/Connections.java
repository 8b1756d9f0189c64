package org.gantrel.service.guard;

import java.io.IOException;
import java.net.InetSocketAddress;
import java.nio.channels.SocketChannel;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import org.apache.coyote.http11.Http11NioProtocol;
import org.apache.tomcat.util.net.NioEndpoint;
import org.springframework.boot.tomcat.servlet.TomcatServletWebServerFactory;
import org.springframework.boot.web.server.WebServerFactoryCustomizer;
import org.springframework.stereotype.Component;

/**
 * Keeps connections for those who come. When three quarters of all are taken, a new one has the one closed that has been
 * idle for the longest, which a client is prepared for (RFC 9112, 9.3.1); and where none is idle, one address has half of
 * all at most.
 */
public final class Connections extends Http11NioProtocol {

    /** Made by the server, by its name. */
    public Connections() {
        super(new Bounded());
    }

    /** Has the server use them. */
    @Component
    static class Used implements WebServerFactoryCustomizer<TomcatServletWebServerFactory> {
        @Override
        public void customize(TomcatServletWebServerFactory factory) {
            factory.setProtocol(Connections.class.getName());
        }
    }

    private static final class Bounded extends NioEndpoint {

        @Override
        protected boolean setSocketOptions(SocketChannel socket) {
            if (4 * getConnectionCount() > 3L * getMaxConnections() && !hasRoom(socket)) {
                destroySocket(socket);
                return false;
            }
            return super.setSocketOptions(socket);
        }

        private boolean hasRoom(SocketChannel socket) {
            List<NioSocketWrapper> all =
                    getConnections().stream().map(NioSocketWrapper.class::cast).toList();
            Optional<NioSocketWrapper> idle = all.stream()
                    // no call is under way there
                    .filter(each -> each.getCurrentProcessor() == null)
                    .min(Comparator.comparingLong(NioSocketWrapper::getLastRead));
            if (idle.isPresent()) {
                idle.get().close();
                return true;
            }
            String from = address(socket);
            long many = all.stream()
                    .map(each -> each.getRemoteAddr())
                    .filter(each -> each != null && from.equals(Fairness.address(each)))
                    .count();
            return 2 * many < getMaxConnections();
        }

        private static String address(SocketChannel socket) {
            try {
                return socket.getRemoteAddress() instanceof InetSocketAddress known
                        ? Fairness.address(known.getAddress().getHostAddress())
                        : "";
            } catch (IOException e) {
                // it has gone
                return "";
            }
        }
    }
}
