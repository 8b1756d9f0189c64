package org.gantrel.service.start;

import java.security.SecureRandom;
import java.util.Base64;
import java.util.Optional;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Teams;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.boot.web.server.servlet.context.ServletWebServerApplicationContext;
import org.springframework.context.SmartLifecycle;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;

/**
 * Makes the first administrator before anybody can call, unless the demo's people are there already, and says where the
 * service is once it is ready.
 */
@Component
class FirstStart implements SmartLifecycle {

    private final Teams teams;
    private final Settings settings;
    private final ServletWebServerApplicationContext context;
    private boolean running;

    FirstStart(Teams teams, Settings settings, ServletWebServerApplicationContext context) {
        this.teams = teams;
        this.settings = settings;
        this.context = context;
    }

    /** Later than the demo, earlier than the web server. */
    @Override
    public int getPhase() {
        return 1;
    }

    @Override
    public void start() {
        running = true;
        if (teams.hasNobody()) {
            Optional<String> chosen = Optional.ofNullable(System.getenv("GANTREL_ADMIN_PASSWORD"));
            String password = chosen.orElseGet(FirstStart::generated);
            teams.createFirst("admin", "Administrator", password)
                    .ifPresent(complaint -> System.out.println(
                            "the password in GANTREL_ADMIN_PASSWORD should be another: " + complaint));
            System.out.println(
                    chosen.isPresent()
                            ? "made the account 'admin' with the password from GANTREL_ADMIN_PASSWORD"
                            : "made the account 'admin' with the password " + password
                                    + "   (shown this once; change it with 'gantrel person password admin')");
        }
    }

    @Override
    public void stop() {
        running = false;
    }

    @Override
    public boolean isRunning() {
        return running;
    }

    @EventListener
    void ready(ApplicationReadyEvent event) {
        int port = context.getWebServer().getPort();
        String scheme = settings.web().tlsCertificate().isPresent() ? "https" : "http";
        System.out.println("Gantrel listens on " + scheme + "://" + Settings.place(settings.address(), port)
                + "  (data in " + settings.data() + "; Ctrl-C stops it)");
    }

    private static String generated() {
        byte[] bytes = new byte[15];
        new SecureRandom().nextBytes(bytes);
        return Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
    }
}
