package org.gantrel.service.starter;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.time.ZoneId;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.definition.Definitions;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.service.refusal.Refusal;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

@DisplayName("A starter")
class StartersTest {

    private static final ZoneId OSLO = ZoneId.of("Europe/Oslo");

    private final Starters starters = new Starters();

    StartersTest() throws IOException {}

    private Map<String, String> examples(String name) {
        var examples = new LinkedHashMap<String, String>();
        starters.all().stream()
                .filter(each -> each.name().equals(name))
                .flatMap(each -> each.blanks().stream())
                .forEach(blank -> examples.put(blank.name(), blank.example()));
        return examples;
    }

    @ParameterizedTest(name = "{0} is right when filled with its own examples, and its schedules begin off")
    @ValueSource(
            strings = {
                "write-ahead-of-a-date",
                "raise-untouched-rows",
                "raise-rows-past-a-limit",
                "thin-out-a-folder",
                "load-a-feed",
                "set-back-each-morning",
                "probe-an-address",
                "query-as-pdf"
            })
    void isRightWithItsExamples(String name) {
        Map<String, String> examples = examples(name);
        Definitions filled = DefinitionReader.read(starters.fill(name, examples, OSLO));
        assertThat(filled.jobs()).isNotEmpty();
        assertThat(filled.jobs()).allSatisfy(each -> {
            assertThat(each.job().team()).isEqualTo(examples.get("team"));
            assertThat(each.job().about()).isNotBlank();
            assertThat(each.job().schedules()).noneMatch(schedule -> schedule.on());
        });
        assertThat(filled.jobs().stream().flatMap(each -> each.job().schedules().stream()))
                .isNotEmpty()
                .allSatisfy(schedule -> assertThat(schedule.zone()).isEqualTo(OSLO));
    }

    @Test
    @DisplayName("says of all blanks at once which are missing, unknown or too long")
    void saysWhichBlanksAreWrong() {
        assertThatThrownBy(() -> starters.fill(
                        "probe-an-address",
                        Map.of("job", "probe", "adress", "x", "contains", "x".repeat(2_001), "team", "a\nb"),
                        OSLO))
                .isInstanceOfSatisfying(InvalidException.class, e -> assertThat(e.problems())
                        .extracting(problem -> problem.field() + " " + problem.message())
                        .containsExactlyInAnyOrder(
                                "adress the starter has no such blank; did you mean 'address'?",
                                "address is missing: the address, such as http://www.example.org/health",
                                "contains one line of at most 2000 characters",
                                "team one line of at most 2000 characters",
                                "mail is missing: who is told, such as duty@example.org"));
    }

    @Test
    @DisplayName("whose filled definition is wrong says what is wrong with it; quotes in a blank stay in their place")
    void saysWhatIsWrong() {
        var blanks = new LinkedHashMap<>(examples("probe-an-address"));
        blanks.put("address", "booking.example.org");
        assertThatThrownBy(() -> starters.fill("probe-an-address", blanks, OSLO))
                .hasMessageContaining("begins with http:// or https://");
        var mails = new LinkedHashMap<>(examples("write-ahead-of-a-date"));
        mails.put("text", "Say \"yes\" \\ no");
        assertThat(starters.fill("write-ahead-of-a-date", mails, OSLO)).contains("text: \"Say \\\"yes\\\" \\\\ no\"");
        assertThatThrownBy(() -> starters.fill("probe-an-adress", Map.of(), OSLO))
                .isInstanceOf(Refusal.class)
                .hasMessageContaining("did you mean 'probe-an-address'?");
    }

    @Test
    @DisplayName("for a feed keeps the fields that are chosen")
    void keepsChosenFields() {
        var blanks = new LinkedHashMap<>(examples("load-a-feed"));
        assertThat(starters.fill("load-a-feed", blanks, OSLO))
                .contains("columns: [ number, title, valid_until ]")
                .contains("(number, title, valid_until) values (${number}, ${title}, ${valid_until})");
        blanks.put("fields", "number, Valid Until");
        assertThatThrownBy(() -> starters.fill("load-a-feed", blanks, OSLO))
                .hasMessageContaining("'Valid Until' is no name of a field");
    }

    @Test
    @DisplayName("tells what each blank is for, with an example")
    void tellsWhatBlanksAreFor() {
        assertThat(starters.all()).hasSize(8);
        assertThat(starters.all()).flatExtracting(Starters.Starter::blanks).allSatisfy(blank -> {
            assertThat(blank.about()).isNotBlank();
            assertThat(blank.example()).isNotBlank();
        });
        assertThat(starters.all())
                .extracting(each -> List.of(each.name(), each.about()))
                .doesNotHaveDuplicates();
    }
}
