package org.gantrel.service.chain;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import javax.sql.DataSource;
import org.gantrel.core.access.Role;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.MovableClock;
import org.gantrel.service.run.ChainSight.Seen;
import org.gantrel.service.run.ChainSight.StepState;
import org.gantrel.service.run.Run;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Teams;
import org.gantrel.service.time.Waker;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.io.TempDir;

/** Chains in a service that runs, with a clock that the test moves. */
abstract class WorkingChains {

    static final MovableClock CLOCK = new MovableClock(Instant.parse("2026-11-23T01:00:00Z"));
    static final Caller MANAGER =
            new Caller("finn", "Finn", false, Map.of("finance", Role.MANAGER, "revenue", Role.VIEWER));
    static final Caller STRANGER = new Caller("sven", "Sven", false, Map.of("fleet", Role.MANAGER));

    @TempDir
    static Path folder;

    static LiveService service;

    @BeforeAll
    static void open() {
        service = LiveService.fresh(folder, CLOCK);
        service.bean(Teams.class).create(LiveService.SERVICE, "finance", "");
        service.task("good", "true", "");
        service.task("bad", "exit 3", "");
        // goes well once the file of its name is there
        service.define("task: mended\nteam: revenue\nparameters: { name: { type: text } }\n"
                + "does: { command: [ /usr/bin/test, -e, \"" + folder + "/${name}\" ] }\n");
        service.define("task: gives\nteam: revenue\nparameters: { json: { type: text } }\n"
                + "does: { command: [ /bin/sh, -c, 'printf %s \"$J\" > \"$GANTREL_RESULT\"' ], environment: { J: \"${json}\" } }\n"
                + "gives: { total: number, route: text }\n");
        service.define("task: notes\nteam: revenue\nparameters: { what: { type: text } }\n"
                + "does: { command: [ /bin/echo, \"${what}\" ] }\n");
    }

    @AfterAll
    static void close() {
        service.close();
    }

    static void chain(String name, String steps) {
        service.define(
                "chain: " + name + "\nteam: revenue\nparameters: { day: { type: text, default: monday } }\n" + steps);
    }

    static Seen seen(Run run) {
        return service.bean(ChainApi.class).show(LiveService.SERVICE, run.number());
    }

    static StepState step(Run run, String name) {
        return seen(run).steps().stream()
                .filter(step -> step.step().equals(name))
                .findFirst()
                .orElseThrow();
    }

    static String states(Run run) {
        return String.join(
                " ",
                seen(run).steps().stream()
                        .map(step -> step.step() + "=" + step.state())
                        .toList());
    }

    static void awaits(Run run, String step, String state) {
        Await.until(step + " is " + state, () -> step(run, step).state().equals(state));
    }

    static void move(Duration by) {
        CLOCK.moveBy(by);
        service.bean(Waker.class).wake();
    }

    static Run goOn(Run run, String from, Map<String, Object> values) {
        service.bean(ChainApi.class)
                .goOn(LiveService.SERVICE, run.number(), new ChainApi.GoOnBody(from, values, "mended"));
        return service.ended(run);
    }

    /** The first column of what the database answers. */
    static List<String> asked(String sql) {
        try (Connection connection = service.bean(DataSource.class).getConnection();
                ResultSet rows = connection.createStatement().executeQuery(sql)) {
            var found = new ArrayList<String>();
            while (rows.next()) {
                found.add(rows.getString(1));
            }
            return found;
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
    }
}
