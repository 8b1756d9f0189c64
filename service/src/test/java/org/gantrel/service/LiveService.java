package org.gantrel.service;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.engine.EnginePulse;
import org.gantrel.service.imports.Imports;
import org.gantrel.service.imports.Imports.DefinitionFile;
import org.gantrel.service.imports.Imports.ImportBody;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.Starts;
import org.gantrel.service.run.SweepRequest;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.start.Serve;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Teams;
import org.springframework.context.ConfigurableApplicationContext;

/** A whole service in this process, with a data folder of its own and the team revenue. */
public final class LiveService implements AutoCloseable {

    public static final Caller SERVICE = Caller.service();

    private final Settings settings;
    private final Clock clock;
    private ConfigurableApplicationContext context;

    private LiveService(Settings settings, Clock clock) {
        this.settings = settings;
        this.clock = clock;
    }

    public static LiveService fresh(Path folder) {
        return fresh(folder, Clock.systemUTC());
    }

    public static LiveService fresh(Path folder, Clock clock) {
        return fresh(folder, clock, settings -> settings);
    }

    /** @param with other settings than the usual ones */
    public static LiveService fresh(Path folder, Clock clock, UnaryOperator<Settings> with) {
        try {
            var service = new LiveService(with.apply(TestSettings.in(folder, 4)), clock);
            service.open();
            service.bean(Teams.class).create(SERVICE, "revenue", "");
            return service;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** A service on a data folder that is there already, within a folder. */
    public static LiveService onWhatIsThere(Path folder, Clock clock) throws IOException {
        var service = new LiveService(TestSettings.in(folder, 4), clock);
        service.open();
        return service;
    }

    public void open() throws IOException {
        context = Serve.start(settings, clock);
    }

    /** Stops it and starts it again on the same data. */
    public void restart() throws IOException {
        context.close();
        open();
    }

    public <T> T bean(Class<T> type) {
        return context.getBean(type);
    }

    public int port() {
        return Integer.parseInt(context.getEnvironment().getProperty("local.server.port"));
    }

    public Path data() {
        return settings.data();
    }

    public Path folder(Run run) {
        return settings.runsFolder().resolve(run.number() / 1000 + "/" + run.number());
    }

    /** Brings definitions in. */
    public void define(String text) {
        bean(Imports.class).bringIn(SERVICE, false, new ImportBody(List.of(new DefinitionFile("t", text))));
    }

    /** Makes a task of the team revenue that runs a line of shell, with more lines of YAML. */
    public void task(String name, String shell, String more) {
        define("task: " + name + "\nteam: revenue\ndoes: { shell: '" + shell.replace("'", "''") + "' }\n" + more);
    }

    public Run start(String job) {
        return start(job, Map.of());
    }

    public Run start(String job, Map<String, String> values) {
        return bean(Starts.class).start(SERVICE, job, values, Optional.empty());
    }

    public Run startOver(String job, String roster) {
        return bean(Starts.class)
                .start(SERVICE, job, Map.of(), Optional.of(SweepRequest.all(roster)), Optional.empty());
    }

    public Run found(long number) {
        return bean(Runs.class).find(number).orElseThrow();
    }

    public Run ended(Run run) {
        try {
            Await.until(
                    "run " + run.number() + " ends",
                    () -> found(run.number()).state().isEnded());
        } catch (AssertionError e) {
            Run now = found(run.number());
            throw new AssertionError(
                    "%s; it is %s, waits for '%s', says '%s'; the engine: '%s'; aside: %s"
                            .formatted(
                                    e.getMessage(),
                                    now.state(),
                                    now.waitingFor(),
                                    now.message(),
                                    bean(EnginePulse.class).fault(),
                                    bean(SetAside.class).all()),
                    e);
        }
        return found(run.number());
    }

    public void waits(Run run, String what) {
        Await.until(
                run.number() + " waits for " + what,
                () -> found(run.number()).waitingFor().startsWith(what));
    }

    public Run underway(Run run) {
        Await.until(
                "run " + run.number() + " begins",
                () -> Files.exists(folder(run).resolve("process")));
        return found(run.number());
    }

    public List<Run> children(Run run) {
        return bean(Runs.class).children(run.number());
    }

    @Override
    public void close() {
        context.close();
    }
}
