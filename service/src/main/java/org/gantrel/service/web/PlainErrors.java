package org.gantrel.service.web;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import org.apache.catalina.connector.Request;
import org.apache.catalina.connector.Response;
import org.apache.catalina.core.StandardHost;
import org.apache.catalina.valves.ErrorReportValve;
import org.gantrel.service.http.ProblemView;
import org.springframework.boot.tomcat.servlet.TomcatServletWebServerFactory;
import org.springframework.boot.web.server.WebServerFactoryCustomizer;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/** What the web server turns down before any of our code, such as an address with a zero byte, in the one shape of an error. */
@Component
class PlainErrors implements WebServerFactoryCustomizer<TomcatServletWebServerFactory> {

    @Override
    public void customize(TomcatServletWebServerFactory factory) {
        factory.addContextCustomizers(
                context -> ((StandardHost) context.getParent()).setErrorReportValveClass(Report.class.getName()));
    }

    /** Made by the server, by its name. */
    public static final class Report extends ErrorReportValve {

        @Override
        protected void report(Request request, Response response, Throwable thrown) {
            int code = response.getStatus();
            if (code < 400 || response.getContentWritten() > 0 || !response.setErrorReported()) {
                return;
            }
            HttpStatus status = HttpStatus.resolve(code);
            String title = status == null ? "Not understood" : status.getReasonPhrase();
            try {
                response.setContentType(MediaType.APPLICATION_PROBLEM_JSON_VALUE);
                response.setCharacterEncoding(StandardCharsets.UTF_8.name());
                response.getReporter()
                        .write(JsonMapper.shared()
                                .writeValueAsString(new ProblemView(
                                        "about:blank",
                                        title,
                                        code,
                                        code < 500
                                                ? "the call is not understood; an address holds no encoded slashes, control"
                                                        + " characters or other letters than those of RFC 3986"
                                                : "the service's own log says more",
                                        null,
                                        null)));
                response.finishResponse();
            } catch (IOException | IllegalStateException e) {
                // whoever asked is gone
                return;
            }
        }
    }
}
