package org.gantrel.service.expect;

import java.util.List;
import org.gantrel.core.access.Deed;
import org.gantrel.service.expect.Silences.Silence;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** What was expected and has not come. */
@RestController
@RequestMapping("/api/v1/silences")
@Transactional
class SilenceApi {

    private final Silences silences;

    SilenceApi(Silences silences) {
        this.silences = silences;
    }

    /** All that a caller may know of. */
    @GetMapping
    @Transactional(readOnly = true)
    List<Silence> list(@AuthenticationPrincipal Caller caller) {
        return silences.now().stream()
                .filter(each -> caller.may(Deed.SEE_RUNS, each.team()))
                .toList();
    }

    /** Says that the caller sees to it. */
    @PutMapping("/{id}/charge")
    Silence take(@AuthenticationPrincipal Caller caller, @PathVariable long id) {
        return seeTo(caller, id, true);
    }

    /** Says that nobody sees to it any more. */
    @DeleteMapping("/{id}/charge")
    Silence leave(@AuthenticationPrincipal Caller caller, @PathVariable long id) {
        return seeTo(caller, id, false);
    }

    private Silence seeTo(Caller caller, long id, boolean sees) {
        Silence known = list(caller).stream()
                .filter(each -> each.id() == id)
                .findFirst()
                .orElseThrow(() -> Refusal.notFound("there is no silence " + id));
        caller.require(Deed.CANCEL_RUNS, known.team());
        return silences.seeTo(caller, id, sees);
    }
}
