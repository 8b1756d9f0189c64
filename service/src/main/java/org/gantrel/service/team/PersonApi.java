package org.gantrel.service.team;

import java.util.List;
import org.gantrel.service.durable.Turn;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Accounts of people. */
@RestController
@RequestMapping("/api/v1/people")
class PersonApi {

    record PersonView(String name, String fullName, boolean administrator, boolean shut) {
        static PersonView of(Person person) {
            return new PersonView(person.name(), person.fullName(), person.isAdministrator(), person.isShut());
        }
    }

    record NewPerson(String name, String fullName, String password, Boolean administrator) {}

    record Shut(boolean shut) {}

    private final Teams teams;
    private final Turn turn;

    PersonApi(Teams teams, Turn turn) {
        this.turn = turn;
        this.teams = teams;
    }

    @GetMapping
    List<PersonView> list(@AuthenticationPrincipal Caller caller) {
        return teams.people(caller).stream().map(PersonView::of).toList();
    }

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    PersonView create(@AuthenticationPrincipal Caller caller, @RequestBody NewPerson body) {
        return PersonView.of(teams.createPerson(
                caller,
                text(body.name()),
                text(body.fullName()),
                text(body.password()),
                Boolean.TRUE.equals(body.administrator())));
    }

    @PutMapping("/{person}/shut")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void setShut(@AuthenticationPrincipal Caller caller, @PathVariable String person, @RequestBody Shut body) {
        turn.perform(() -> teams.setShut(caller, person, body.shut()));
    }

    private static String text(String given) {
        return given == null ? "" : given;
    }
}
