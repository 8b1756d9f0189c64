package org.gantrel.bench;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Mouse;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.BoundingBox;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/** How smoothly a large chain is edited in the console: the longest frame while it is moved, zoomed and given a step. */
final class GraphBench {

    private static final int LARGE = 200;
    private static final int SMALL = 10;
    private static final int IN_A_COLUMN = 10;

    /** The longest time between two frames from now on until it is asked for, in milliseconds. */
    private static final String WATCH =
            """
            () => { window.longest = 0; let last = performance.now(); const run = ++window.watching || (window.watching = 1);
              const look = (now) => { window.longest = Math.max(window.longest, now - last); last = now;
                if (window.watching === run) requestAnimationFrame(look); };
              requestAnimationFrame((now) => { last = now; requestAnimationFrame(look); }); }""";

    private GraphBench() {}

    private record Frames(double pan, double zoom, double add) {}

    static void run(Path data) throws IOException, InterruptedException {
        try (Program service = Program.start(data.resolve("service"));
                ConsoleBrowser browser = new ConsoleBrowser()) {
            service.call("POST", "/api/v1/teams", Map.of("name", "bench", "about", ""));
            String text = "task: one\nteam: bench\ndoes: { command: [ \"true\" ] }\n---\n" + chain("large", LARGE)
                    + "---\n" + chain("small", SMALL);
            service.call("POST", "/api/v1/imports", Map.of("files", List.of(Map.of("name", "b", "text", text))));
            Page page = browser.page();
            ConsoleBrowser.signIn(page, service);
            frames(service, page, "small");
            Frames small = frames(service, page, "small");
            Frames large = frames(service, page, "large");
            say("moving the picture of " + LARGE + " steps", large.pan(), small.pan());
            say("zooming it", large.zoom(), small.zoom());
            say("adding a step", large.add(), small.add());
        }
    }

    private static String chain(String name, int count) {
        return "chain: " + name + "\nteam: bench\nsteps:\n"
                + IntStream.range(0, count)
                        .mapToObj(i -> "  - { step: s" + i + ", job: one, after: "
                                + (i < IN_A_COLUMN ? "[]" : "s" + (i - IN_A_COLUMN)) + " }\n")
                        .collect(Collectors.joining());
    }

    private static Frames frames(Program service, Page page, String chain) {
        page.navigate(service.url() + "/jobs/" + chain + "/edit");
        Locator picture = page.locator(".react-flow__pane");
        picture.waitFor();
        page.waitForTimeout(1_000);
        BoundingBox box = picture.boundingBox();
        double x = box.x + box.width / 2;
        double y = box.y + box.height - 20;
        page.evaluate(WATCH);
        page.mouse().move(x, y);
        page.mouse().down();
        page.mouse().move(x - 300, y - 60, new Mouse.MoveOptions().setSteps(40));
        page.mouse().move(x + 100, y, new Mouse.MoveOptions().setSteps(40));
        page.mouse().up();
        double pan = longest(page);
        page.evaluate(WATCH);
        for (int i = 0; i < 30; i++) {
            page.mouse().wheel(0, i < 15 ? -60 : 60);
            page.waitForTimeout(16);
        }
        double zoom = longest(page);
        page.evaluate(WATCH);
        page.getByRole(
                        AriaRole.BUTTON,
                        new Page.GetByRoleOptions().setName("Job").setExact(true))
                .click();
        page.waitForTimeout(800);
        return new Frames(pan, zoom, longest(page));
    }

    private static double longest(Page page) {
        return ((Number) page.evaluate("() => { window.watching++; return window.longest; }")).doubleValue();
    }

    private static void say(String what, double large, double small) {
        Bench.line(
                what + ", the longest frame",
                String.format(Locale.ROOT, "%.0f ms", large),
                String.format(Locale.ROOT, "with " + SMALL + " steps %.0f ms", small),
                large / small,
                "at most 50 ms");
    }
}
