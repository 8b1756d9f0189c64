package org.gantrel.service.run;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.RunState;
import org.gantrel.service.http.Paging;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.springframework.core.io.FileSystemResource;
import org.springframework.core.io.Resource;
import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** What a run found and left behind: its items and its outputs. */
@RestController
@RequestMapping("/api/v1/runs/{number}")
@Transactional(readOnly = true)
class RunFindingsApi {

    private static final int DEEPEST = 12;
    private static final int MOST_CHARTED = 40;
    private static final int RUNS_CHARTED = 30;

    /** @param id the place in the list, for {@code after} */
    record ItemView(long id, String name, String state, String seen, Duration took) {}

    /** What became of an item in another run of the job, and how long that took. */
    record ItemThen(long run, String state, Duration took) {}

    record OutputView(String name, long bytes) {}

    private final RunAccess access;
    private final Runs runs;
    private final RunLogs logs;

    RunFindingsApi(RunAccess access, Runs runs, RunLogs logs) {
        this.access = access;
        this.runs = runs;
        this.logs = logs;
    }

    @GetMapping("/items")
    ResponseEntity<List<ItemView>> items(
            @AuthenticationPrincipal Caller caller,
            @PathVariable long number,
            @RequestParam(required = false) String state,
            @RequestParam(defaultValue = "100") int limit,
            @RequestParam(defaultValue = "0") long after) {
        Run run = access.visible(caller, number);
        RunState wanted = Optional.ofNullable(state)
                .map(word -> RunState.of(word)
                        .orElseThrow(() -> new InvalidException("state", "'" + word + "' is no state of an item")))
                .orElse(null);
        return Paging.page(
                runs.items(run, after, wanted, Paging.limit(limit) + 1),
                limit,
                RunItem::id,
                item -> new ItemView(
                        item.id(), item.name(), item.state().word(), item.seen(), Duration.ofMillis(item.millis())));
    }

    /** How items of this run's names did in the latest runs of the job up to this one, each the latest first. */
    @GetMapping("/items/history")
    Map<String, List<ItemThen>> history(@AuthenticationPrincipal Caller caller, @PathVariable long number) {
        Run run = access.visible(caller, number);
        List<String> names = runs.items(run, 0, null, MOST_CHARTED).stream()
                .map(RunItem::name)
                .distinct()
                .toList();
        return runs.itemsBefore(run, names, RUNS_CHARTED, MOST_CHARTED * RUNS_CHARTED).stream()
                .collect(Collectors.groupingBy(
                        RunItem::name,
                        LinkedHashMap::new,
                        Collectors.mapping(
                                item -> new ItemThen(
                                        item.runNumber(), item.state().word(), Duration.ofMillis(item.millis())),
                                Collectors.toList())));
    }

    @GetMapping("/outputs")
    List<OutputView> outputs(@AuthenticationPrincipal Caller caller, @PathVariable long number) throws IOException {
        return outputsIn(logs.outputs(access.visible(caller, number).number()));
    }

    /** The outputs that a run keeps in its folder, the first {@link Paging#MOST} of them. */
    static List<OutputView> outputsIn(Path folder) throws IOException {
        if (!Files.isDirectory(folder)) {
            return List.of();
        }
        try (Stream<Path> files = Files.walk(folder, DEEPEST)) {
            return files.filter(file -> Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS))
                    .sorted()
                    .limit(Paging.MOST)
                    .map(file -> new OutputView(folder.relativize(file).toString(), size(file)))
                    .toList();
        }
    }

    /** One output. It is never shown in place, since nobody knows what a command wrote into it. */
    @GetMapping("/outputs/file")
    ResponseEntity<Resource> output(
            @AuthenticationPrincipal Caller caller, @PathVariable long number, @RequestParam String name)
            throws IOException {
        Path folder = logs.outputs(access.visible(caller, number).number());
        Path file = folder.resolve(name).normalize();
        boolean there = file.startsWith(folder)
                && Files.isRegularFile(file)
                && file.toRealPath().startsWith(folder.toRealPath());
        if (!there) {
            throw Refusal.notFound("run " + number + " has no output '" + name + "'");
        }
        return ResponseEntity.ok()
                .contentType(MediaType.APPLICATION_OCTET_STREAM)
                .header(
                        HttpHeaders.CONTENT_DISPOSITION,
                        ContentDisposition.attachment()
                                .filename(file.getFileName().toString(), java.nio.charset.StandardCharsets.UTF_8)
                                .build()
                                .toString())
                .body(new FileSystemResource(file));
    }

    private static long size(Path file) {
        try {
            return Files.size(file);
        } catch (IOException e) {
            return 0;
        }
    }
}
