package org.gantrel.service.work;

import jakarta.mail.MessagingException;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Optional;
import org.gantrel.core.credential.Credential;
import org.gantrel.service.credential.SignIn;
import org.gantrel.service.execution.Accounts;
import org.gantrel.service.mail.SmtpSender;
import org.gantrel.service.remote.RemoteCommands;
import org.springframework.stereotype.Component;

/** Signs in with credentials to see whether they work. */
@Component
class SignIns implements SignIn {

    private final Databases databases;
    private final MailServers mails;
    private final Accounts accounts;
    private final RemoteCommands remote;

    SignIns(Databases databases, MailServers mails, Accounts accounts, RemoteCommands remote) {
        this.remote = remote;
        this.databases = databases;
        this.mails = mails;
        this.accounts = accounts;
    }

    @Override
    public Optional<String> complaint(Credential credential) {
        return switch (credential.kind()) {
            case DATABASE -> database(credential);
            case MAIL -> mail(credential);
            case ACCOUNT -> accounts.commandComplaint(credential.fact("account"));
            case SSH -> remote.complaint(credential);
            case HTTP_BASIC, HTTP_BEARER, HTTP_HEADER, SECRET -> Optional.empty();
        };
    }

    @Override
    public String done(Credential credential) {
        return switch (credential.kind()) {
            case DATABASE -> "the database lets " + credential.identity() + " in";
            case MAIL -> "the mail server takes " + credential.identity();
            case ACCOUNT -> "commands can run as " + credential.fact("account");
            case SSH ->
                credential.fact("host") + " has the key that is known of it, and lets " + credential.fact("user")
                        + " in";
            case HTTP_BASIC, HTTP_BEARER, HTTP_HEADER, SECRET ->
                "its secret can be opened; whether it is right shows where it is used";
        };
    }

    private Optional<String> database(Credential credential) {
        try (Connection connection = databases.connect(credential)) {
            return connection.isValid(5) ? Optional.empty() : Optional.of("the connection is not usable");
        } catch (SQLException | WorkFailed e) {
            return Optional.of(e.getMessage());
        }
    }

    private Optional<String> mail(Credential credential) {
        try {
            SmtpSender.to(mails.of(Optional.of(credential))).testConnection();
            return Optional.empty();
        } catch (MessagingException e) {
            // what the library calls it, and what was wrong
            Exception why = e.getNextException();
            return Optional.of(
                    why == null || why.getMessage() == null
                            ? e.getMessage()
                            : e.getMessage() + ": " + why.getMessage());
        }
    }
}
