package org.gantrel.service.notification;

import java.util.List;
import java.util.Optional;
import org.gantrel.core.access.Deed;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.definition.TellingDefinition;
import org.gantrel.core.notification.Happening;
import org.gantrel.core.notification.Wording;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunAccess;
import org.gantrel.service.run.Runs;
import org.gantrel.service.team.Caller;
import org.gantrel.service.telling.Tellings;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RestController;

/** Shows what a message would say in the words of a team, with what a real run says. */
@RestController
@Transactional(readOnly = true)
class WordingApi {

    /**
     * What is to be shown.
     *
     * @param name a wording that is saved
     * @param definition one that is not saved yet, in its place
     * @param run a run that the caller may see
     */
    record WordingPreviewBody(String name, String definition, Long run) {}

    record WordingPreview(String subject, String text, String html) {}

    private final Tellings tellings;
    private final RunAccess access;
    private final Runs runs;
    private final Texts texts;

    WordingApi(Tellings tellings, RunAccess access, Runs runs, Texts texts) {
        this.tellings = tellings;
        this.access = access;
        this.runs = runs;
        this.texts = texts;
    }

    @PostMapping("/api/v1/wording-previews")
    WordingPreview preview(@AuthenticationPrincipal Caller caller, @RequestBody WordingPreviewBody body) {
        if (body.run() == null) {
            throw new InvalidException("run", "is missing: a run whose message is shown");
        }
        Run run = access.visible(caller, body.run(), Deed.SEE_RUNS);
        Wording wording = body.definition() == null || body.definition().isBlank()
                ? (Wording) tellings.visible(caller, "wording", String.valueOf(body.name()))
                        .telling()
                : unsaved(caller, body.definition());
        Happening happening = Happening.of(run.state()).orElse(Happening.FAILED);
        Texts.Said said = texts.event(happening, run, runs.jobOf(run), run.message(), true, "This is a preview.");
        Texts.Said worded = texts.worded(said, wording, Optional.of(run));
        return new WordingPreview(worded.subject(), worded.text(), worded.html());
    }

    private Wording unsaved(Caller caller, String text) {
        List<TellingDefinition> found = DefinitionReader.read(text).tellings();
        if (found.size() != 1 || !(found.get(0).telling() instanceof Wording wording)) {
            throw new InvalidException("definition", "is no wording: it begins with 'wording: NAME'");
        }
        List<Problem> problems = tellings.problems(caller, found.get(0), List.of());
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        return wording;
    }
}
