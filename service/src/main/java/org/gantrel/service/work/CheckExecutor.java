package org.gantrel.service.work;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystemException;
import java.nio.file.NoSuchFileException;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.action.Checks;
import org.gantrel.core.action.Checks.Answer;
import org.gantrel.core.action.Checks.AnswerLimits;
import org.gantrel.core.action.Checks.Check;
import org.gantrel.core.action.Checks.FileState;
import org.gantrel.core.action.Checks.QueryValue;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.Item;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;
import org.gantrel.service.execution.Sources;
import org.gantrel.service.places.FileTrouble;
import org.gantrel.service.places.FilesToRead;
import org.gantrel.service.places.Hands;
import org.gantrel.service.refusal.Refusal;
import org.springframework.stereotype.Component;

/** Looks whether things are as they are expected to be. One that is not does not keep the others from being looked at. */
@Component
class CheckExecutor implements ActionExecutor<Checks> {

    private static final int LONGEST_READ = 1_000_000;
    private static final int LONGEST_SEEN = 200;

    private final Databases databases;
    private final RequestExecutor requests;
    private final Clock clock;

    CheckExecutor(Databases databases, RequestExecutor requests, Clock clock) {
        this.databases = databases;
        this.requests = requests;
        this.clock = clock;
    }

    @Override
    public Class<Checks> type() {
        return Checks.class;
    }

    @Override
    public Ending perform(Checks checks, Execution work) throws InterruptedException {
        var taken = new LinkedHashMap<String, String>();
        work.takesFrom(checks.from());
        int done = 0;
        for (Check written : checks.all()) {
            for (String place : written.from().isEmpty() ? List.of("") : written.from()) {
                if (work.isStopped()) {
                    throw new InterruptedException();
                }
                Instant begun = clock.instant();
                Item item = look(checks, written, place, taken, work).after(Duration.between(begun, clock.instant()));
                work.keep(item);
                boolean passed = item.state() == RunState.SUCCEEDED;
                work.say((passed ? "passed  " : "FAILED  ") + item.name() + ": " + item.seen());
            }
            work.progress(++done, checks.all().size(), "checks");
        }
        return work.ending(Words.count(checks.all().size(), "check") + " passed");
    }

    private Item look(Checks checks, Check written, String place, Map<String, String> taken, Execution work)
            throws InterruptedException {
        try {
            Check check = checks.ready(written, taken);
            return look(
                    place.isEmpty()
                            ? check
                            : new Check(
                                    check.name() + " from " + place,
                                    check.credential(),
                                    check.subject(),
                                    check.expectation()),
                    place,
                    taken,
                    work);
        } catch (ExpressionException e) {
            return Item.of(written.name(), RunState.FAILED, e.getMessage());
        }
    }

    /** Looks at one thing; whatever goes wrong is what was seen. */
    Item look(Check check, Execution work) throws InterruptedException {
        return look(check, "", new LinkedHashMap<>(), work);
    }

    private Item look(Check check, String place, Map<String, String> taken, Execution work)
            throws InterruptedException {
        try {
            String seen = value(check, place, taken, work);
            // what a file holds is nobody's to read who may only look whether it is as it should be
            String shown = check.subject() instanceof FileState
                    ? Words.count(seen.length(), "character")
                    : "saw " + brief(seen);
            return check.expectation()
                    .complaint(seen)
                    .map(complaint -> Item.of(check.name(), RunState.FAILED, complaint + ", " + shown))
                    .orElse(Item.of(check.name(), RunState.SUCCEEDED, shown));
        } catch (FileSystemException e) {
            return Item.of(check.name(), RunState.FAILED, FileTrouble.sentence(e));
        } catch (SQLException | IOException | WorkFailed e) {
            return Item.of(check.name(), RunState.FAILED, e.getMessage());
        }
    }

    private String value(Check check, String place, Map<String, String> taken, Execution work)
            throws SQLException, IOException, InterruptedException {
        Optional<Credential> actor = work.credential(check.credential());
        if (check.subject() instanceof QueryValue query) {
            Credential credential = actor.filter(each -> !each.fact("url").isEmpty())
                    .orElseThrow(() -> new WorkFailed("a query needs acts-as: a credential of the kind database"));
            return value(query, credential, work);
        }
        if (check.subject() instanceof Answer answer) {
            Optional<Credential> signing = actor.filter(each -> each.fact("url").isEmpty());
            return value(answer, place, signing, taken, work);
        }
        FileState file = (FileState) check.subject();
        return state(file, work.files(file.path()));
    }

    private String value(
            Answer answer, String place, Optional<Credential> signing, Map<String, String> taken, Execution work)
            throws IOException, InterruptedException {
        // elapsed time, which the clock of schedules says nothing of
        long begun = System.nanoTime();
        try (HttpAnswer got = place.isEmpty()
                ? requests.send(answer.request(), signing, work)
                : requests.sendFrom(work.credential(place).orElseThrow(), answer.request(), signing, work)) {
            Duration took = Duration.ofNanos(System.nanoTime() - begun);
            if (!answer.request().expects(got.status())) {
                throw new WorkFailed("answered " + got.status() + ", expected "
                        + String.join(" or ", answer.request().expect()));
            }
            keeps(answer.limits(), got, took);
            String text = got.text();
            answer.request().take().forEach((name, pointer) -> {
                String value = RequestExecutor.at(text, pointer);
                // what opens the next door is nobody's to read
                work.hide(value);
                taken.put(name, value);
            });
            return answer.limits().at().isEmpty()
                    ? text.strip()
                    : RequestExecutor.at(text, answer.limits().at());
        }
    }

    private void keeps(AnswerLimits limits, HttpAnswer got, Duration took) {
        limits.fasterThan().filter(most -> took.compareTo(most) > 0).ifPresent(most -> {
            throw new WorkFailed("the answer took " + took.toMillis() + " ms, expected less than "
                    + (most.toMillis() < 1_000 ? most.toMillis() + " ms" : Words.duration(most)));
        });
        limits.certificateDays().ifPresent(days -> {
            Instant until = got.certificateUntil()
                    .orElseThrow(() -> new WorkFailed("there is no certificate; the address begins with http://"));
            long left = Duration.between(clock.instant(), until).toDays();
            if (left < days) {
                throw new WorkFailed("the certificate ends in " + Words.count(left, "day") + ", on "
                        + until.atOffset(ZoneOffset.UTC).toLocalDate() + ", expected at least " + days);
            }
        });
        limits.header().forEach((name, part) -> {
            String value = String.join(", ", got.headers().allValues(name));
            if (!value.contains(part)) {
                throw new WorkFailed(
                        "the header " + name + " is '" + brief(value) + "', expected '" + part + "' in it");
            }
        });
    }

    private String value(QueryValue query, Credential credential, Execution work) throws SQLException {
        try (Connection connection = databases.connect(credential, work);
                PreparedStatement statement = SqlExecutor.executed(
                        connection, query.bound(), asked -> work.onStop(() -> SqlExecutor.cancel(asked)));
                ResultSet rows = statement.getResultSet()) {
            if (rows == null || !rows.next()) {
                throw new WorkFailed("the query gave no row");
            }
            return Optional.ofNullable(rows.getString(1)).orElse("nothing (NULL)");
        }
    }

    private String state(FileState file, FilesToRead files) throws IOException {
        Hands.Entry found = files.look(file.path());
        Duration age = Duration.between(found.modified(), clock.instant());
        if (file.newerThan().isPresent() && age.compareTo(file.newerThan().get()) > 0) {
            throw new WorkFailed("it was written " + Words.duration(age) + " ago, expected at most "
                    + Words.duration(file.newerThan().get()));
        }
        long size = found.size();
        if (file.largerThan().isPresent() && size <= file.largerThan().get()) {
            throw new WorkFailed("it has " + size + " bytes, expected more than "
                    + file.largerThan().get());
        }
        try (var stream = files.open(file.path())) {
            return new String(stream.readNBytes(LONGEST_READ), StandardCharsets.UTF_8).strip();
        }
    }

    @Override
    public List<Rehearsed> rehearse(Checks checks, Rehearsing around) {
        var found = new ArrayList<Rehearsed>();
        try (Sources.Taken source = SourceRehearsal.take(checks.from(), around, found)) {
            rehearse(checks, around, Optional.ofNullable(source), found);
        }
        return found;
    }

    private void rehearse(Checks checks, Rehearsing around, Optional<Sources.Taken> source, List<Rehearsed> found) {
        for (Check written : checks.all()) {
            Check check;
            try {
                check = checks.ready(written, Map.of());
            } catch (ExpressionException e) {
                found.add(Rehearsed.untried(written.name(), "it needs what an earlier answer gives"));
                continue;
            }
            try {
                if (check.subject() instanceof QueryValue query) {
                    rehearse(check, query, around, found);
                } else if (check.subject() instanceof Answer answer) {
                    found.add(Rehearsed.does(
                            check.name(),
                            answer.request().method() + " " + answer.request().address()));
                    if (check.from().isEmpty()) {
                        found.addAll(requests.reach(answer.request().address()));
                    } else {
                        found.add(Rehearsed.untried(
                                "answer", "it is asked from " + Words.list(check.from()) + " when it is looked at"));
                    }
                } else if (check.subject() instanceof FileState file) {
                    rehearse(check, file, checks.from().isPresent(), source, around, found);
                }
            } catch (WorkFailed | Refusal | SQLException | IOException e) {
                found.add(Rehearsed.wrong(check.name(), e.getMessage()));
            }
        }
    }

    private void rehearse(Check check, QueryValue query, Rehearsing around, List<Rehearsed> found) throws SQLException {
        found.add(Rehearsed.does(check.name(), query.bound().text()));
        Credential credential = around.credential(check.credential())
                .filter(each -> !each.fact("url").isEmpty())
                .orElseThrow(() -> new WorkFailed("a query needs acts-as: a credential of the kind database"));
        try (Connection connection = databases.connect(credential)) {
            SqlExecutor.readOrSay(connection, check.name(), query.bound(), found);
        }
    }

    /** A file may come later; that it is not there is what the check is for. */
    private void rehearse(
            Check check,
            FileState file,
            boolean takes,
            Optional<Sources.Taken> source,
            Rehearsing around,
            List<Rehearsed> found)
            throws IOException {
        boolean taken = takes && !file.path().startsWith("/");
        if (taken && source.isEmpty()) {
            found.add(Rehearsed.untried(check.name(), "the repository could not be read"));
            return;
        }
        try (Hands hands = taken ? null : around.hands().open()) {
            FilesToRead files = taken ? source.get() : hands;
            Hands.Entry entry = files.look(file.path());
            found.add(Rehearsed.does(
                    check.name(),
                    "file " + file.path() + ", now " + Words.count(entry.size(), "byte") + ", written "
                            + Words.duration(Duration.between(entry.modified(), clock.instant())) + " ago"));
        } catch (NoSuchFileException e) {
            found.add(Rehearsed.does(check.name(), "file " + file.path() + ", which is not there now"));
        } catch (FileSystemException e) {
            found.add(Rehearsed.wrong(check.name(), FileTrouble.sentence(e)));
        }
    }

    private static String brief(String text) {
        String line = text.replace('\n', ' ');
        return line.length() <= LONGEST_SEEN ? line : line.substring(0, LONGEST_SEEN) + "...";
    }
}
