package org.gantrel.service.backup;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Instant;
import java.util.List;
import org.gantrel.core.access.Deed;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Caller;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** The backups of the installation's own data. */
@RestController
@RequestMapping("/api/v1/backups")
class BackupApi {

    /**
     * How the installation is backed up.
     *
     * @param folder where they are kept; missing where none is set, and none are made
     * @param next when the next is made
     * @param keep how many are kept
     * @param trouble why the latest could not be made
     * @param backups the newest first
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record BackupsView(
            String folder,
            String at,
            String zone,
            Integer keep,
            Instant next,
            Backups.Trouble trouble,
            List<Backups.Backup> backups) {}

    private final Backups backups;
    private final Settings settings;

    BackupApi(Backups backups, Settings settings) {
        this.backups = backups;
        this.settings = settings;
    }

    @GetMapping
    BackupsView list(@AuthenticationPrincipal Caller caller) {
        caller.require(Deed.RUN_INSTALLATION);
        return settings.backup()
                .map(to -> new BackupsView(
                        to.folder().toString(),
                        to.plan().at().toString(),
                        to.plan().zone().getId(),
                        to.plan().keep(),
                        backups.next().orElse(null),
                        backups.trouble().orElse(null),
                        backups.all()))
                .orElseGet(() -> new BackupsView(null, null, null, null, null, null, List.of()));
    }

    /** Makes one now, and answers when it is there. */
    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    Backups.Backup make(@AuthenticationPrincipal Caller caller) {
        caller.require(Deed.RUN_INSTALLATION);
        return backups.make()
                .orElseThrow(() -> Refusal.conflict("the backup could not be made: "
                        + backups.trouble().map(Backups.Trouble::message).orElse("the service's own log says more")));
    }
}
