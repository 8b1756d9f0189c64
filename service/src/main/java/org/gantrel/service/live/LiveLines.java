package org.gantrel.service.live;

import jakarta.annotation.PreDestroy;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.util.concurrent.TimeUnit;
import org.apache.coyote.AbstractProtocol;
import org.apache.tomcat.util.threads.TaskQueue;
import org.apache.tomcat.util.threads.TaskThreadFactory;
import org.apache.tomcat.util.threads.ThreadPoolExecutor;
import org.springframework.boot.tomcat.servlet.TomcatServletWebServerFactory;
import org.springframework.boot.web.server.WebServerFactoryCustomizer;
import org.springframework.stereotype.Component;
import org.springframework.web.servlet.AsyncHandlerInterceptor;
import org.springframework.web.servlet.config.annotation.InterceptorRegistry;
import org.springframework.web.servlet.config.annotation.WebMvcConfigurer;

/**
 * Tells a live line when the thread of its call has let go of it: not when our code has, but when the server's has too.
 * Only after that is a line that breaks off while it is written to ended in good order.
 */
@Component
class LiveLines implements WebMvcConfigurer, WebServerFactoryCustomizer<TomcatServletWebServerFactory> {

    private final ThreadLocal<LiveLine> held = new ThreadLocal<>();
    private ThreadPoolExecutor threads;

    @Override
    public void addInterceptors(InterceptorRegistry registry) {
        registry.addInterceptor(new AsyncHandlerInterceptor() {
            @Override
            public void afterConcurrentHandlingStarted(
                    HttpServletRequest request, HttpServletResponse response, Object handler) {
                if (request.getAttribute(LiveLine.ATTRIBUTE) instanceof LiveLine line) {
                    held.set(line);
                }
            }
        });
    }

    /** The server's own kind of threads, as many as are set, and looked after when each has done a piece of work. */
    @Override
    public void customize(TomcatServletWebServerFactory factory) {
        factory.addConnectorCustomizers(connector -> {
            if (connector.getProtocolHandler() instanceof AbstractProtocol<?> protocol) {
                var queue = new TaskQueue();
                threads = new Calls(protocol.getMinSpareThreads(), protocol.getMaxThreads(), queue);
                queue.setParent(threads);
                protocol.setExecutor(threads);
            }
        });
    }

    private final class Calls extends ThreadPoolExecutor {

        private Calls(int usual, int most, TaskQueue queue) {
            super(usual, most, 60, TimeUnit.SECONDS, queue, new TaskThreadFactory("http-", true, Thread.NORM_PRIORITY));
        }

        @Override
        protected void afterExecute(Runnable work, Throwable thrown) {
            super.afterExecute(work, thrown);
            LiveLine line = held.get();
            if (line != null) {
                held.remove();
                line.begin();
            }
        }
    }

    @PreDestroy
    void close() {
        if (threads != null) {
            threads.shutdown();
        }
    }
}
