package org.gantrel.service.work;

import java.util.Optional;
import java.util.Properties;
import org.gantrel.core.credential.Credential;
import org.gantrel.service.settings.Settings;
import org.springframework.mail.javamail.JavaMailSenderImpl;
import org.springframework.stereotype.Component;

/** Makes ready to speak to a mail server: that of a credential, or else the one of the installation. */
@Component
class MailServers {

    private static final String PATIENCE_MILLIS = "10000";

    private final Settings settings;

    MailServers(Settings settings) {
        this.settings = settings;
    }

    /** A mail server, and whom its mails come from. */
    record Server(JavaMailSenderImpl sender, String from) {
        String host() {
            return sender.getHost();
        }
    }

    Server of(Optional<Credential> credential) {
        if (credential.isPresent()) {
            Credential each = credential.get();
            return server(
                    each.fact("host"),
                    Integer.parseInt(each.fact("port")),
                    each.fact("encryption"),
                    each.fact("user"),
                    each.secret("password"),
                    each.fact("from"));
        }
        Settings.Mail mail = settings.mail()
                .orElseThrow(() ->
                        new WorkFailed("no mail server is known: acts-as names one, or mail-host of the installation"));
        return server(
                mail.host(),
                mail.port(),
                mail.encryption().name().toLowerCase(java.util.Locale.ROOT),
                mail.user(),
                mail.password(),
                mail.from());
    }

    private static Server server(String host, int port, String encryption, String user, String password, String from) {
        var sender = new JavaMailSenderImpl();
        sender.setHost(host);
        sender.setPort(port);
        Properties properties = sender.getJavaMailProperties();
        properties.setProperty("mail.smtp.connectiontimeout", PATIENCE_MILLIS);
        properties.setProperty("mail.smtp.timeout", PATIENCE_MILLIS);
        if (encryption.equals("starttls")) {
            properties.setProperty("mail.smtp.starttls.enable", "true");
            properties.setProperty("mail.smtp.starttls.required", "true");
        } else if (encryption.equals("tls")) {
            properties.setProperty("mail.smtp.ssl.enable", "true");
        }
        if (!user.isEmpty()) {
            properties.setProperty("mail.smtp.auth", "true");
            sender.setUsername(user);
            sender.setPassword(password);
        }
        return new Server(sender, from);
    }
}
