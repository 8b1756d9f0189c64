package org.gantrel.service.mail;

import java.util.Properties;
import org.gantrel.service.durable.Transactions;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.settings.Settings.Mail.Encryption;
import org.springframework.mail.javamail.JavaMailSenderImpl;

/** Makes ready to speak to a mail server over SMTP (RFC 5321), protected as it says, and with an end to all waiting. */
public final class SmtpSender {

    private static final String CONNECT_MILLIS = "10000";
    private static final String ANSWER_MILLIS = "20000";

    static {
        // named here, they are not looked for in all libraries again for each part of each mail
        name("jakarta.mail.util.StreamProvider", "org.eclipse.angus.mail.util.MailStreamProvider");
        name(
                "jakarta.activation.spi.MailcapRegistryProvider",
                "org.eclipse.angus.activation.MailcapRegistryProviderImpl");
        name(
                "jakarta.activation.spi.MimeTypeRegistryProvider",
                "org.eclipse.angus.activation.MimeTypeRegistryProviderImpl");
    }

    private SmtpSender() {}

    private static void name(String service, String implementation) {
        if (System.getProperty(service) == null) {
            System.setProperty(service, implementation);
        }
    }

    /** A sender to a server; a server that shows the certificate of another name is not spoken to. */
    public static JavaMailSenderImpl to(Settings.Mail server) {
        return to(server, new BoundedSockets());
    }

    /** The same over connections that somebody may close. */
    public static JavaMailSenderImpl to(Settings.Mail server, BoundedSockets sockets) {
        assert Transactions.none() : "another system is asked in a transaction";
        var sender = new JavaMailSenderImpl();
        sender.setHost(server.host());
        sender.setPort(server.port());
        sender.setDefaultEncoding("UTF-8");
        sender.setProtocol(server.encryption() == Encryption.TLS ? "smtps" : "smtp");
        Properties properties = sender.getJavaMailProperties();
        // makes Message-IDs end with the sender's domain, and asks nobody for the name of this host
        properties.setProperty("mail.from", server.from());
        String prefix = "mail." + sender.getProtocol() + ".";
        properties.setProperty(prefix + "connectiontimeout", CONNECT_MILLIS);
        properties.setProperty(prefix + "timeout", ANSWER_MILLIS);
        properties.setProperty(prefix + "writetimeout", ANSWER_MILLIS);
        properties.setProperty(prefix + "ssl.checkserveridentity", "true");
        properties.put(prefix + "socketFactory", sockets);
        properties.setProperty(prefix + "socketFactory.fallback", "false");
        if (server.encryption() == Encryption.STARTTLS) {
            properties.setProperty(prefix + "starttls.enable", "true");
            properties.setProperty(prefix + "starttls.required", "true");
        }
        if (!server.user().isEmpty()) {
            sender.setUsername(server.user());
            sender.setPassword(server.password());
            properties.setProperty(prefix + "auth", "true");
        }
        return sender;
    }
}
