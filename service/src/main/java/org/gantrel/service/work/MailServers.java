package org.gantrel.service.work;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.credential.Credential;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.settings.Settings.Mail.Encryption;
import org.springframework.stereotype.Component;

/** Says which mail server a task speaks to: that of a credential, or else the one of the installation. */
@Component
class MailServers {

    private final Settings settings;

    MailServers(Settings settings) {
        this.settings = settings;
    }

    Settings.Mail of(Optional<Credential> credential) {
        return credential
                .map(MailServers::server)
                .or(settings::mail)
                .orElseThrow(() ->
                        new WorkFailed("no mail server is known: acts-as names one, or mail-host of the installation"));
    }

    private static Settings.Mail server(Credential credential) {
        Encryption encryption = Arrays.stream(Encryption.values())
                .filter(each -> each.name().equalsIgnoreCase(credential.fact("encryption")))
                .findFirst()
                .orElse(Encryption.NONE);
        return new Settings.Mail(
                credential.fact("host"),
                Integer.parseInt(credential.fact("port")),
                credential.fact("from"),
                encryption,
                credential.fact("user"),
                credential.secret("password"),
                List.of());
    }
}
