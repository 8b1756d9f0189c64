package org.gantrel.service.imports;

import java.util.List;
import org.gantrel.service.imports.Imports.ImportBody;
import org.gantrel.service.imports.Imports.Imported;
import org.gantrel.service.team.Caller;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Definition files, brought in. */
@RestController
@RequestMapping("/api/v1/imports")
class ImportApi {

    private final Imports imports;

    ImportApi(Imports imports) {
        this.imports = imports;
    }

    @PostMapping
    List<Imported> bringIn(
            @AuthenticationPrincipal Caller caller,
            @RequestParam(defaultValue = "false") boolean dryRun,
            @RequestParam(defaultValue = "false") boolean overEdits,
            @RequestBody ImportBody body) {
        return imports.bringIn(caller, dryRun, overEdits, body);
    }
}
