package org.gantrel.service.starter;

import java.util.List;
import java.util.Map;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Caller;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** The gallery of starters. Filling one gives a definition to look at; bringing it in is an import like any other. */
@RestController
@RequestMapping("/api/v1/starters")
class StarterApi {

    record FillBody(Map<String, String> blanks) {}

    record Filled(String definition) {}

    private final Starters starters;

    private final Settings settings;

    StarterApi(Starters starters, Settings settings) {
        this.settings = settings;
        this.starters = starters;
    }

    @GetMapping
    List<Starters.Starter> list(@AuthenticationPrincipal Caller caller) {
        return starters.all();
    }

    @PostMapping("/{name}")
    Filled fill(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @RequestBody(required = false) FillBody body) {
        return new Filled(
                starters.fill(name, body == null || body.blanks() == null ? Map.of() : body.blanks(), settings.zone()));
    }
}
