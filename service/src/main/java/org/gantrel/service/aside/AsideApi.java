package org.gantrel.service.aside;

import java.util.List;
import java.util.stream.Stream;
import org.gantrel.core.access.Deed;
import org.gantrel.service.aside.SetAside.Entry;
import org.gantrel.service.aside.SetAside.Kind;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.ChangeLog;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** What the engine could not deal with, and another try of it. */
@RestController
@RequestMapping("/api/v1/set-aside")
class AsideApi {

    private final SetAside aside;
    private final ChangeLog changes;

    AsideApi(SetAside aside, ChangeLog changes) {
        this.aside = aside;
        this.changes = changes;
    }

    /** All that is set aside and the caller may know of: that of their teams, and for administrators the rest too. */
    @GetMapping
    List<AsideView> list(@AuthenticationPrincipal Caller caller) {
        return aside.seenBy(caller);
    }

    /** Tries a thing again at once. */
    @PostMapping("/{kind}/{id}/retry")
    @ResponseStatus(HttpStatus.ACCEPTED)
    @Transactional
    void retry(@AuthenticationPrincipal Caller caller, @PathVariable String kind, @PathVariable long id) {
        Entry entry = aside.all().stream()
                .filter(each ->
                        each.thing().kind().word().equals(kind) && each.thing().id() == id)
                .filter(each -> SetAside.isSeenBy(each, caller))
                .findFirst()
                .orElseThrow(() ->
                        Refusal.notFound("nothing of the kind '" + kind + "' with the number " + id + " is set aside"));
        if (entry.thing().team().isEmpty()) {
            caller.require(Deed.RUN_INSTALLATION);
        } else {
            caller.require(Deed.CANCEL_RUNS, entry.thing().team());
        }
        changes.record(
                caller, "tried again", kind, entry.thing().name(), entry.thing().team(), entry.reason());
        aside.tryAgain(
                Stream.of(Kind.values())
                        .filter(each -> each.word().equals(kind))
                        .findFirst()
                        .orElseThrow(),
                id);
    }
}
