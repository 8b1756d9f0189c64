package org.gantrel.service.choice;

import java.util.Map;
import org.gantrel.service.team.Caller;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** How the caller likes things to be shown. */
@RestController
@RequestMapping("/api/v1/me/choices")
class ChoiceApi {

    /** @param chosen empty takes the choice back */
    record Choice(String chosen) {}

    private final Choices choices;

    ChoiceApi(Choices choices) {
        this.choices = choices;
    }

    @GetMapping
    Map<String, String> all(@AuthenticationPrincipal Caller caller) {
        return choices.of(caller.name());
    }

    @PutMapping("/{name}")
    Map<String, String> keep(
            @AuthenticationPrincipal Caller caller, @PathVariable String name, @RequestBody Choice body) {
        choices.keep(caller.name(), name, body.chosen() == null ? "" : body.chosen());
        return choices.of(caller.name());
    }
}
