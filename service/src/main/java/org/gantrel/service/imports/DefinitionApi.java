package org.gantrel.service.imports;

import java.util.List;
import java.util.Map;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.definition.DefinitionWords;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.service.http.ProblemView;
import org.gantrel.service.http.ProblemView.Wrong;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RestController;

/** What editors of definitions need while somebody types. */
@RestController
class DefinitionApi {

    /** @param definition the text of a definition file, as far as it is written */
    record Draft(String definition) {}

    /** The words that may stand at each place of a definition, with what they are for. */
    @GetMapping("/api/v1/definition-words")
    Map<String, List<DefinitionWords.Word>> words() {
        return DefinitionWords.all();
    }

    /**
     * What is wrong with a text by itself, each at its line; nothing else is looked at, and nothing is kept. What other
     * definitions and rights have to say comes with a save or a dry run.
     */
    @PostMapping("/api/v1/definition-checks")
    List<Wrong> check(@RequestBody Draft draft) {
        try {
            DefinitionReader.read(draft.definition() == null ? "" : draft.definition());
            return List.of();
        } catch (InvalidException e) {
            return e.problems().stream()
                    .map(problem -> ProblemView.Wrong.of(null, problem))
                    .toList();
        }
    }
}
