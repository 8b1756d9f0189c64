package org.gantrel.service.work;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Predicate;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.job.Job;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.roster.Roster;
import org.gantrel.core.text.StrictReader;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.execution.AccountHands;
import org.gantrel.service.execution.RunFolder;
import org.gantrel.service.places.FileTrouble;
import org.gantrel.service.places.Hands;
import org.gantrel.service.roster.CsvRows;
import org.gantrel.service.roster.Rosters;
import org.gantrel.service.roster.SourceRights;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.run.Runs;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.sweep.RowSource;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Callers;
import org.springframework.stereotype.Component;
import org.springframework.util.FileSystemUtils;
import tools.jackson.core.JacksonException;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.ObjectReader;
import tools.jackson.databind.json.JsonMapper;

/** Draws the rows of rosters from queries, files, folders, answers and earlier outputs, row by row. */
@Component
class RowReader implements RowSource {

    private static final JsonMapper JSON = JsonMapper.shared();
    private static final ObjectReader ROWS = JSON.reader().without(DeserializationFeature.FAIL_ON_TRAILING_TOKENS);
    private static final int DEEPEST = 12;

    private final Databases databases;
    private final RequestExecutor requests;
    private final Credentials credentials;
    private final Runs runs;
    private final RunValues values;
    private final AccountHands hands;
    private final Rosters rosters;
    private final SourceRights rights;
    private final Callers callers;
    private final Settings settings;

    RowReader(
            Databases databases,
            RequestExecutor requests,
            Credentials credentials,
            Runs runs,
            RunValues values,
            AccountHands hands,
            Rosters rosters,
            SourceRights rights,
            Callers callers,
            Settings settings) {
        this.rosters = rosters;
        this.rights = rights;
        this.callers = callers;
        this.hands = hands;
        this.databases = databases;
        this.requests = requests;
        this.credentials = credentials;
        this.runs = runs;
        this.values = values;
        this.settings = settings;
    }

    @Override
    public void draw(Roster roster, Roster.Source source, Job job, Run run, Consumer<Map<String, String>> each) {
        RunFolder folder = RunFolder.of(settings.runsFolder(), run.number());
        drawInto(folder, roster, source, job, run, each);
    }

    /** Enough has been seen. */
    private static final class Enough extends RuntimeException {
        private static final long serialVersionUID = 1L;

        private Enough() {
            super("enough", null, false, false);
        }
    }

    @Override
    public void glance(Roster roster, Roster.Source source, Job job, Predicate<Map<String, String>> each) {
        Path folder = null;
        try {
            folder = Files.createTempDirectory(
                    Files.createDirectories(settings.data().resolve("tmp")), "rehearsal");
            drawInto(new RunFolder(folder), roster, source, job, null, values -> {
                if (!each.test(values)) {
                    throw new Enough();
                }
            });
        } catch (Enough e) {
            // what is left of the source is not asked for
            return;
        } catch (IOException e) {
            throw new WorkFailed(e.toString());
        } finally {
            FileSystemUtils.deleteRecursively(folder == null ? null : folder.toFile());
        }
    }

    private void drawInto(
            RunFolder folder,
            Roster roster,
            Roster.Source source,
            Job job,
            Run run,
            Consumer<Map<String, String>> each) {
        checkRights(roster, job);
        List<String> covered =
                run == null ? List.of() : List.copyOf(values.secrets(run).values());
        String purpose = run == null ? "rehearsal of " + job.name() : "run " + run.number();
        try (var work = new Execution(
                run,
                folder,
                covered,
                Optional.empty(),
                name -> credentials.use(name, roster.team(), job.name(), purpose),
                () -> hands.of(roster.team(), job))) {
            work.say("drawing rows from " + source.words());
            draw(source, work, each);
        } catch (SQLException e) {
            throw new WorkFailed("the database said: " + e.getMessage());
        } catch (FileSystemException e) {
            throw new WorkFailed(FileTrouble.sentence(e));
        } catch (IOException e) {
            throw new WorkFailed(e.getMessage());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new WorkFailed("it was interrupted");
        }
    }

    /**
     * Rows come from elsewhere in the name of who saved the roster, as long as they may see it there; and with a credential
     * that is for the jobs of both teams, that of the roster and that of the job.
     */
    private void checkRights(Roster roster, Job job) {
        Optional<Caller> author =
                rosters.named(roster.name()).map(rosters::changedBy).flatMap(callers::whoSaved);
        author.map(who -> rights.complaint(who, roster, List.of()))
                .orElse(Optional.of("nobody who may see where its rows come from has saved the roster"))
                .ifPresent(complaint -> {
                    throw new WorkFailed(complaint);
                });
        String credential = roster.source().map(Roster.Source::credential).orElse("");
        if (!credential.isEmpty()) {
            credentials.complaint(credential, job.team(), job.name()).ifPresent(complaint -> {
                throw new WorkFailed(complaint);
            });
        }
    }

    private void draw(Roster.Source source, Execution work, Consumer<Map<String, String>> each)
            throws SQLException, IOException, InterruptedException {
        if (source instanceof Roster.FromQuery query) {
            query(query, work, each);
        } else if (source instanceof Roster.FromFile file) {
            try (InputStream stream = work.hands().open(file.path())) {
                rows(stream, file.json(), file.charset(), each);
            }
        } else if (source instanceof Roster.FromFolder folder) {
            folder(folder, work.hands(), each);
        } else if (source instanceof Roster.FromAnswer answer) {
            try (HttpAnswer got = requests.send(answer.request(), work.credential(answer.credential()), work);
                    InputStream body = got.open()) {
                if (!answer.request().expects(got.status())) {
                    throw new WorkFailed(answer.request().address() + " answered " + got.status());
                }
                json(body, each);
            }
        } else if (source instanceof Roster.FromOutput output) {
            RunFolder folder = runs.latestGood(output.job())
                    .map(number -> RunFolder.of(settings.runsFolder(), number))
                    .orElseThrow(() -> new WorkFailed("the job " + output.job() + " has not run well yet"));
            new Root(folder.outputs()).resolve(output.output());
            Path file = folder.output(output.output())
                    .orElseThrow(
                            () -> new WorkFailed("the job " + output.job() + " left no output " + output.output()));
            try (InputStream stream = Files.newInputStream(file)) {
                rows(stream, file.toString().endsWith(".json"), StandardCharsets.UTF_8, each);
            }
        }
    }

    private void query(Roster.FromQuery query, Execution work, Consumer<Map<String, String>> each) throws SQLException {
        Credential credential = work.credential(query.credential()).orElseThrow();
        try (Connection connection = databases.connect(credential, work)) {
            // a driver may otherwise bring all rows into memory at once
            connection.setAutoCommit(false);
            try (PreparedStatement statement = SqlExecutor.executed(
                            connection,
                            query.bound().orElseThrow(),
                            asked -> work.onStop(() -> SqlExecutor.cancel(asked)));
                    ResultSet rows = statement.getResultSet()) {
                if (rows == null) {
                    throw new WorkFailed("rows come from a query, and this statement gives none");
                }
                List<String> names = SqlExecutor.names(rows.getMetaData()).stream()
                        .map(name -> name.toLowerCase(Locale.ROOT))
                        .toList();
                while (rows.next()) {
                    var values = new LinkedHashMap<String, String>();
                    for (int i = 0; i < names.size(); i++) {
                        values.put(
                                names.get(i),
                                Optional.ofNullable(rows.getString(i + 1)).orElse(""));
                    }
                    each.accept(values);
                }
            }
        }
    }

    private static void rows(InputStream file, boolean json, Charset charset, Consumer<Map<String, String>> taker)
            throws IOException {
        var stream = new RowMeter(file);
        Consumer<Map<String, String>> each = row -> {
            stream.taken();
            taker.accept(row);
        };
        if (json) {
            json(stream, each);
            return;
        }
        var problems = new ArrayList<Problem>();
        CsvRows.read(new BufferedReader(new StrictReader(stream, charset)), List.of(), problems, each);
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
    }

    private static void json(InputStream stream, Consumer<Map<String, String>> each) {
        try (JsonParser parser = JSON.createParser(stream)) {
            if (parser.nextToken() != JsonToken.START_ARRAY) {
                throw new WorkFailed("a JSON array of objects is expected");
            }
            while (parser.nextToken() == JsonToken.START_OBJECT) {
                JsonNode row = ROWS.readTree(new FewValues(parser));
                var values = new LinkedHashMap<String, String>();
                row.properties()
                        .forEach(entry -> values.put(
                                entry.getKey(),
                                entry.getValue().isValueNode()
                                        ? entry.getValue().asString()
                                        : entry.getValue().toString()));
                each.accept(values);
            }
        } catch (JacksonException e) {
            throw new WorkFailed("is no JSON: " + e.getOriginalMessage());
        }
    }

    private static void folder(Roster.FromFolder from, Hands hands, Consumer<Map<String, String>> each)
            throws IOException {
        if (!hands.isFolder(from.folder())) {
            throw new WorkFailed("there is no folder " + from.folder());
        }
        String glob = from.matching();
        for (Hands.Entry file : hands.list(from.folder(), List.of(glob, "**/" + glob), DEEPEST)) {
            each.accept(Map.of("file", Path.of(from.folder(), file.path()).toString()));
        }
    }
}
