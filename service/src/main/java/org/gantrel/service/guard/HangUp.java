package org.gantrel.service.guard;

import jakarta.servlet.ServletException;
import java.io.IOException;
import org.apache.catalina.connector.Request;
import org.apache.catalina.connector.Response;
import org.apache.catalina.valves.ValveBase;
import org.apache.coyote.ActionCode;
import org.springframework.boot.tomcat.servlet.TomcatServletWebServerFactory;
import org.springframework.boot.web.server.WebServerFactoryCustomizer;
import org.springframework.stereotype.Component;

/**
 * Closes the connection of a call that the server itself turned down before its body was there: it would wait with one of
 * its threads for the rest of that otherwise. Our own refusals come by {@link Lingering}.
 */
@Component
class HangUp implements WebServerFactoryCustomizer<TomcatServletWebServerFactory> {

    @Override
    public void customize(TomcatServletWebServerFactory factory) {
        factory.addEngineValves(new AfterAll());
    }

    private static final class AfterAll extends ValveBase {
        private AfterAll() {
            super(true);
        }

        @Override
        public void invoke(Request request, Response response) throws IOException, ServletException {
            getNext().invoke(request, response);
            if (!request.isAsync() && Arrival.hasBody(request) && !request.isFinished()) {
                request.getCoyoteRequest().action(ActionCode.DISABLE_SWALLOW_INPUT, null);
            }
        }
    }
}
