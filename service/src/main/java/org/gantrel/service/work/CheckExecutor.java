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
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.action.Checks;
import org.gantrel.core.action.Checks.Answer;
import org.gantrel.core.action.Checks.Check;
import org.gantrel.core.action.Checks.FileState;
import org.gantrel.core.action.Checks.QueryValue;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.Item;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;
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
        for (Check check : checks.all()) {
            if (work.isStopped()) {
                throw new InterruptedException();
            }
            Instant begun = clock.instant();
            Item item = look(check, work).after(Duration.between(begun, clock.instant()));
            work.keep(item);
            work.progress(work.items().size(), checks.all().size(), "checks");
            boolean passed = item.state() == RunState.SUCCEEDED;
            work.say((passed ? "passed  " : "FAILED  ") + item.name() + ": " + item.seen());
        }
        return work.ending(Words.count(checks.all().size(), "check") + " passed");
    }

    /** Looks at one thing; whatever goes wrong is what was seen. */
    Item look(Check check, Execution work) throws InterruptedException {
        try {
            String seen = value(check, work);
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

    private String value(Check check, Execution work) throws SQLException, IOException, InterruptedException {
        Optional<Credential> actor = work.credential(check.credential());
        if (check.subject() instanceof QueryValue query) {
            Credential credential = actor.filter(each -> !each.fact("url").isEmpty())
                    .orElseThrow(() -> new WorkFailed("a query needs acts-as: a credential of the kind database"));
            return value(query, credential);
        }
        if (check.subject() instanceof Answer answer) {
            Optional<Credential> signing = actor.filter(each -> each.fact("url").isEmpty());
            try (HttpAnswer got = requests.send(answer.request(), signing, work)) {
                if (!answer.request().expects(got.status())) {
                    throw new WorkFailed("answered " + got.status() + ", expected "
                            + String.join(" or ", answer.request().expect()));
                }
                return got.text().strip();
            }
        }
        return state((FileState) check.subject(), work.hands());
    }

    private String value(QueryValue query, Credential credential) throws SQLException {
        try (Connection connection = databases.connect(credential);
                PreparedStatement statement = SqlExecutor.executed(connection, query.bound(), each -> {});
                ResultSet rows = statement.getResultSet()) {
            if (rows == null || !rows.next()) {
                throw new WorkFailed("the query gave no row");
            }
            return Optional.ofNullable(rows.getString(1)).orElse("nothing (NULL)");
        }
    }

    private String state(FileState file, Hands hands) throws IOException {
        Hands.Entry found = hands.look(file.path());
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
        try (var stream = hands.open(file.path())) {
            return new String(stream.readNBytes(LONGEST_READ), StandardCharsets.UTF_8).strip();
        }
    }

    @Override
    public List<Rehearsed> rehearse(Checks checks, Rehearsing around) {
        var found = new ArrayList<Rehearsed>();
        for (Check check : checks.all()) {
            try {
                if (check.subject() instanceof QueryValue query) {
                    rehearse(check, query, around, found);
                } else if (check.subject() instanceof Answer answer) {
                    found.add(Rehearsed.does(
                            check.name(), "GET " + answer.request().address()));
                    found.addAll(requests.reach(answer.request().address()));
                } else if (check.subject() instanceof FileState file) {
                    rehearse(check, file, around, found);
                }
            } catch (WorkFailed | Refusal | SQLException | IOException e) {
                found.add(Rehearsed.wrong(check.name(), e.getMessage()));
            }
        }
        return found;
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
    private void rehearse(Check check, FileState file, Rehearsing around, List<Rehearsed> found) throws IOException {
        try (Hands hands = around.hands().open()) {
            Hands.Entry entry = hands.look(file.path());
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
