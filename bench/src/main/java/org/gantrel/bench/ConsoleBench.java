package org.gantrel.bench;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.zip.GZIPOutputStream;

/** How quick the console is in headless Chromium: what is loaded first, from a click to data, the longest tasks, and memory. */
final class ConsoleBench {

    private static final int JOBS = 300;
    private static final int SECONDS = 12;
    private static final int LINES = 500_000;
    private static final int WALKS = 20;

    private static final List<String> PAGES = List.of(
            "Today",
            "History",
            "Jobs",
            "Schedules",
            "Calendars",
            "Rosters",
            "Lanes",
            "Credentials",
            "Changes",
            "Events");

    /** Notes every task of over 50 ms from the page's beginning on (Long Tasks API, W3C). */
    private static final String NOTE =
            """
            window.tasks = [];
            new PerformanceObserver(list => window.tasks.push(...list.getEntries().map(task => task.duration)))
              .observe({ type: 'longtask', buffered: true });
            """;

    private ConsoleBench() {}

    static void run(Path data) throws IOException, InterruptedException {
        try (Program service = Program.start(data.resolve("service"));
                ConsoleBrowser browser = new ConsoleBrowser()) {
            long talk = prepare(service, data);
            Page page = browser.page();
            Map<String, Integer> loaded = new TreeMap<>();
            page.onResponse(answer -> {
                if (answer.url().endsWith(".js")) {
                    loaded.put(answer.url(), zipped(answer.body()));
                }
            });
            page.addInitScript(NOTE);
            ConsoleBrowser.signIn(page, service);
            page.waitForSelector("main h1");
            firstLoad(page, loaded);
            navigation(page);
            longLog(page, service, talk);
            followed(page, service);
            memory(page);
        }
    }

    /** Many jobs and runs, and a long log. */
    private static long prepare(Program service, Path data) throws IOException, InterruptedException {
        service.call("POST", "/api/v1/teams", Map.of("name", "bench", "about", ""));
        Path script = Files.writeString(
                data.resolve("talk.sh"),
                "awk 'BEGIN { for (i = 1; i <= " + LINES + "; i++) print \"line \" i \" of many that say nothing much"
                        + ", but much of it".repeat(11) + "\" }'\n");
        Path chatter = Files.writeString(
                data.resolve("chat.sh"),
                "for t in $(seq " + SECONDS
                        + "0); do seq -f \"said %.0f of very much that comes at once\" ${t}00 ${t}99; sleep 0.1; done\n"
                        + "echo that was all\n");
        String jobs = IntStream.range(0, JOBS)
                .mapToObj(i -> "task: job-" + i + "\nteam: bench\nabout: One of many\ndoes: { command: [ \"true\" ] }\n"
                        + "schedules: [ { name: daily, when: \"every day at 0" + i % 10 + ":" + (10 + i % 50)
                        + "\", zone: UTC } ]\n")
                .collect(Collectors.joining("---\n"));
        String talk = "---\ntask: talk\nteam: bench\ndoes: { command: [ /bin/sh, " + script + " ] }\n"
                + "---\ntask: chat\nteam: bench\ndoes: { command: [ /bin/sh, " + chatter + " ] }\n";
        service.call("POST", "/api/v1/imports", Map.of("files", List.of(Map.of("name", "b", "text", jobs + talk))));
        for (int i = 0; i < 100; i++) {
            service.call("POST", "/api/v1/jobs/job-" + i + "/runs", Map.of());
        }
        long number = service.call("POST", "/api/v1/jobs/talk/runs", Map.of())
                .path("number")
                .asLong();
        while (!List.of("succeeded", "failed")
                .contains(service.call("GET", "/api/v1/runs/" + number, null)
                        .path("state")
                        .asString())) {
            Thread.sleep(100);
        }
        return number;
    }

    private static void firstLoad(Page page, Map<String, Integer> loaded) {
        page.waitForTimeout(1_000);
        double first = loaded.values().stream().mapToInt(Integer::intValue).sum() / 1000.0;
        Bench.line(
                "JavaScript of the first page, compressed",
                String.format(Locale.ROOT, "%.0f kB in %d files", first, loaded.size()),
                "the promise 350 kB",
                first / 350,
                "under 350 kB");
    }

    /** From a click at the side to the page's heading with its data; the second time, when its code is there. */
    private static void navigation(Page page) {
        List<Double> times = new ArrayList<>();
        Map<String, Double> longest = new TreeMap<>();
        for (int round = 0; round < 3; round++) {
            for (String name : PAGES) {
                var link = page.getByRole(AriaRole.NAVIGATION)
                        .getByRole(
                                AriaRole.LINK,
                                new com.microsoft.playwright.Locator.GetByRoleOptions()
                                        .setName(name)
                                        .setExact(true));
                // settled in the page itself, so that the way between here and the browser is not measured
                double took = ((Number)
                                link.evaluate(
                                        """
                                link => new Promise(done => { const begin = performance.now(); link.click();
                                  const title = link.textContent + ' · Gantrel';
                                  const look = () => document.title === title && !document.querySelector('.MuiSkeleton-root')
                                    && document.querySelector('main .MuiDataGrid-row, main article, main svg[role=group], main ol, main .MuiPaper-root')
                                    ? done(performance.now() - begin) : requestAnimationFrame(look); look(); })"""))
                        .doubleValue();
                if (round > 0) {
                    times.add(took);
                }
                page.waitForTimeout(300);
                longest.merge(name, longest(page), Math::max);
                page.evaluate("window.tasks = []");
            }
        }
        List<Double> sorted = times.stream().sorted().toList();
        double median = sorted.get(sorted.size() / 2);
        double most = sorted.get(sorted.size() - 1);
        Bench.line(
                "from a click to a page with its data, " + JOBS + " jobs, median and slowest",
                String.format(Locale.ROOT, "%.0f ms, %.0f ms", median, most),
                "the promise 150 ms",
                most / 150,
                "under 150 ms");
        var slowest =
                longest.entrySet().stream().max(Map.Entry.comparingByValue()).orElseThrow();
        Bench.line(
                "the longest task on the way through " + PAGES.size() + " pages: " + slowest.getKey(),
                String.format(Locale.ROOT, "%.0f ms", slowest.getValue()),
                longest.entrySet().stream()
                        .map(each -> String.format(Locale.ROOT, "%s %.0f", each.getKey(), each.getValue()))
                        .collect(Collectors.joining(", ")),
                slowest.getValue() / 100,
                "under 100 ms");
    }

    private static void longLog(Page page, Program service, long number) {
        page.navigate(service.url() + "/runs/" + number);
        page.getByText("line " + LINES + " of").waitFor();
        page.waitForTimeout(1_000);
        double open = longest(page);
        page.evaluate("window.tasks = []");
        page.locator("[role=log]").hover();
        for (int i = 0; i < 120; i++) {
            page.mouse().wheel(0, i % 40 == 0 ? -400_000 : -300);
            page.waitForTimeout(16);
        }
        double scroll = longest(page);
        Bench.line(
                "the longest task while a log of 500,000 lines, 107 MB, is scrolled",
                scroll == 0 ? "none over 50 ms" : String.format(Locale.ROOT, "%.0f ms", scroll),
                String.format(Locale.ROOT, "while it is opened %.0f ms", open),
                Math.max(scroll, 50) / 50,
                "at most 50 ms");
    }

    /** A log that grows by a thousand lines a second, followed at its end. */
    private static void followed(Page page, Program service) throws IOException, InterruptedException {
        long number = service.call("POST", "/api/v1/jobs/chat/runs", Map.of())
                .path("number")
                .asLong();
        page.navigate(service.url() + "/runs/" + number);
        page.getByText(Pattern.compile("said \\d+ of very much")).first().waitFor();
        page.waitForTimeout(1_000);
        double open = longest(page);
        page.evaluate("window.tasks = []");
        page.getByText("that was all").waitFor();
        double longest = longest(page);
        Bench.line(
                "the longest task while a log that grows by 1,000 lines a second is followed",
                longest == 0 ? "none over 50 ms" : String.format(Locale.ROOT, "%.0f ms", longest),
                String.format(Locale.ROOT, "while it is opened %.0f ms", open),
                Math.max(longest, 50) / 50,
                "at most 50 ms");
    }

    private static void memory(Page page) {
        List<Double> used = new ArrayList<>();
        for (int walk = 0; walk < WALKS; walk++) {
            for (String name : PAGES) {
                page.getByRole(AriaRole.NAVIGATION)
                        .getByRole(
                                AriaRole.LINK,
                                new com.microsoft.playwright.Locator.GetByRoleOptions()
                                        .setName(name)
                                        .setExact(true))
                        .click();
                page.waitForTimeout(120);
            }
            page.evaluate("window.gc && window.gc()");
            used.add(((Number) page.evaluate("performance.memory.usedJSHeapSize")).doubleValue() / 1e6);
        }
        // the first walks load the pages' code
        double early = used.get(3);
        double late = used.get(WALKS - 1);
        Bench.line(
                "memory of the page after " + WALKS + " walks through " + PAGES.size() + " pages",
                String.format(Locale.ROOT, "%.1f MB", late),
                String.format(Locale.ROOT, "after 4 walks %.1f MB", early),
                late / early,
                "flat");
    }

    private static double longest(Page page) {
        return ((Number) page.evaluate("Math.max(0, ...window.tasks)")).doubleValue();
    }

    private static int zipped(byte[] body) {
        try (var bytes = new ByteArrayOutputStream();
                var zip = new GZIPOutputStream(bytes)) {
            zip.write(body);
            zip.finish();
            return bytes.size();
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }
}
