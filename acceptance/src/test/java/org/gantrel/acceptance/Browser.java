package org.gantrel.acceptance;

import com.microsoft.playwright.BrowserContext;
import com.microsoft.playwright.BrowserType;
import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.Playwright;
import com.microsoft.playwright.assertions.PlaywrightAssertions;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import com.microsoft.playwright.options.ReducedMotion;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** Debian's Chromium, headless, and what its pages complained of. */
final class Browser implements AutoCloseable {

    static {
        PlaywrightAssertions.setDefaultAssertionTimeout(Await.PATIENCE.toMillis());
    }

    private static final List<String> FLAGS = List.of(
            "--no-sandbox",
            "--disable-gpu",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync");

    private final Playwright playwright =
            Playwright.create(new Playwright.CreateOptions().setEnv(Map.of("PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD", "1")));
    private final com.microsoft.playwright.Browser browser = playwright
            .chromium()
            .launch(new BrowserType.LaunchOptions()
                    .setExecutablePath(Path.of("/usr/bin/chromium"))
                    .setArgs(FLAGS));
    private final List<String> complaints = new ArrayList<>();
    private final Map<String, String> sessions = new HashMap<>();

    /** A window of its own in which the administrator is signed in; the form is filled in the first time only. */
    Page signedIn(String url, String path, int width, ColorScheme colours) {
        String known = sessions.get(url);
        if (known != null) {
            return open(url + path, width, colours, known);
        }
        Page page = freshlySignedIn(url, path);
        sessions.put(url, page.context().storageState());
        page.close();
        return signedIn(url, path, width, colours);
    }

    /** The same with a session that no other window has, so that it can end. */
    Page freshlySignedIn(String url, String path) {
        Page page = open(url, 1280, ColorScheme.LIGHT);
        page.getByLabel("Name").fill("admin");
        page.getByLabel("Password").fill(Service.PASSWORD);
        button(page, "Sign in").click();
        page.getByRole(AriaRole.NAVIGATION).waitFor();
        page.navigate(url + path);
        return page;
    }

    Page open(String url, int width, ColorScheme colours) {
        return open(url, width, colours, "{}");
    }

    private Page open(String url, int width, ColorScheme colours, String session) {
        BrowserContext context = browser.newContext(new com.microsoft.playwright.Browser.NewContextOptions()
                .setViewportSize(width, 800)
                .setColorScheme(colours)
                // what moves is drawn sixty times a second, by the processor
                .setReducedMotion(ReducedMotion.REDUCE)
                .setStorageState(session)
                .setTimezoneId("Europe/London"));
        Page page = context.newPage();
        page.setDefaultTimeout(Await.PATIENCE.toMillis());
        page.onConsoleMessage(message -> {
            // a browser notes every refusal of a call; what the page makes of it is what counts
            boolean expected = message.text().startsWith("Failed to load resource");
            if (message.type().equals("error") && !expected) {
                complaints.add(message.text());
            }
        });
        page.onPageError(error -> complaints.add("thrown: " + error));
        page.navigate(url);
        return page;
    }

    static Locator button(Page page, String name) {
        return page.getByRole(
                AriaRole.BUTTON, new Page.GetByRoleOptions().setName(name).setExact(true));
    }

    static Locator option(Page page, String name) {
        return page.getByRole(AriaRole.OPTION, new Page.GetByRoleOptions().setName(name));
    }

    /** The field with just this label. */
    static Locator exactly(Page page, String label) {
        return page.getByLabel(label, new Page.GetByLabelOptions().setExact(true));
    }

    static Locator heading(Page page, String name) {
        return page.getByRole(AriaRole.HEADING, new Page.GetByRoleOptions().setName(name));
    }

    /** Writes a text into an editor of definitions, in place of what stands there, as somebody who types and pastes. */
    static void write(Locator editor, String text) {
        editor.click();
        editor.press("Control+a");
        editor.press("Delete");
        editor.page().keyboard().insertText(text);
    }

    /** What stands in an editor of definitions, as far as it is in view. */
    static String linesOf(Locator editor) {
        return (String) editor.evaluate(
                "box => [...box.querySelectorAll('.cm-line')].map(line => line.textContent).join('\\n')");
    }

    /** What pages complained of since it was last asked: faults, and what their policy did not let in. */
    List<String> complaints() {
        List<String> all = List.copyOf(complaints);
        complaints.clear();
        return all;
    }

    @Override
    public void close() {
        playwright.close();
    }
}
