package org.gantrel.service.remote;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;
import org.gantrel.core.action.Command;
import org.gantrel.core.credential.Credential;
import org.gantrel.service.execution.Elsewhere;
import org.gantrel.service.execution.InProcess;
import org.gantrel.service.secret.RandomToken;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.time.Stopwatch;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.stereotype.Component;

/** Commands on other hosts, each followed by a thread of its own. */
@Component
public class RemoteCommands implements Elsewhere, DisposableBean {

    private final RemoteHosts hosts;
    private final Settings settings;
    private final Stopwatch watch;
    private final Clock clock;
    private final ExecutorService threads;

    RemoteCommands(RemoteHosts hosts, Settings settings, Stopwatch watch, Clock clock) {
        this.watch = watch;
        this.hosts = hosts;
        this.settings = settings;
        this.clock = clock;
        var count = new AtomicInteger();
        this.threads = Executors.newCachedThreadPool(task -> {
            var thread = new Thread(task, "remote-" + count.incrementAndGet());
            thread.setDaemon(true);
            return thread;
        });
    }

    @Override
    public InProcess.UnderWay begin(Order order, Listener listener) throws IOException {
        Files.createDirectories(order.folder().path());
        RemoteScript script = RemoteScript.of(installation(), order.name());
        var command = new RemoteCommand(order, script, hosts, listener, watch, clock);
        threads.execute(command::work);
        return command;
    }

    @Override
    public Optional<String> complaint(Credential credential, Command command) {
        return ask(credential, RemoteScript.check(command));
    }

    /** Why nothing can be run as a credential on its host; nothing where it can. */
    public Optional<String> complaint(Credential credential) {
        return ask(credential, "exit 0\n");
    }

    /**
     * What a short script says on a credential's host.
     *
     * @param most how many bytes it may say
     * @throws IOException where the host cannot be reached, or the script fails
     */
    public String said(Credential credential, String script, int most) throws IOException, InterruptedException {
        RemoteHost host = hosts.take(credential);
        try {
            RemoteHost.Answer answer = host.ask(Script.of(script), most);
            if (answer.code() != 0) {
                throw new IOException("on " + host.host() + ": " + answer.errors());
            }
            return answer.text();
        } finally {
            hosts.giveBack(credential);
        }
    }

    private Optional<String> ask(Credential credential, String script) {
        RemoteHost host = hosts.take(credential);
        try {
            RemoteHost.Answer answer = host.run(script);
            return answer.code() == 0
                    ? Optional.empty()
                    : Optional.of(
                            "on " + host.host() + " " + (answer.text().isEmpty() ? answer.errors() : answer.text()));
        } catch (IOException e) {
            return Optional.of(e.getMessage());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return Optional.of("it was interrupted");
        } finally {
            hosts.giveBack(credential);
        }
    }

    /** What tells the runs of this service from those of another that uses the same account of a host. */
    private synchronized String installation() throws IOException {
        Path file = settings.data().resolve("installation");
        if (!Files.exists(file)) {
            Files.writeString(file, RandomToken.hash(RandomToken.make("")).substring(0, 12) + "\n");
        }
        return Files.readString(file).strip();
    }

    @Override
    public void destroy() {
        threads.shutdownNow();
    }
}
