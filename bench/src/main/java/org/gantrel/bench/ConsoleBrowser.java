package org.gantrel.bench;

import com.microsoft.playwright.Browser;
import com.microsoft.playwright.BrowserType;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.Playwright;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;

/** Headless Chromium in which the administrator is signed in to the console of a service. */
final class ConsoleBrowser implements AutoCloseable {

    private final Playwright playwright =
            Playwright.create(new Playwright.CreateOptions().setEnv(Map.of("PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD", "1")));
    private final Browser browser = playwright
            .chromium()
            .launch(new BrowserType.LaunchOptions()
                    .setExecutablePath(Path.of("/usr/bin/chromium"))
                    .setArgs(List.of(
                            "--no-sandbox",
                            "--disable-gpu",
                            "--disable-quic",
                            "--no-first-run",
                            "--disable-background-networking",
                            "--disable-component-update",
                            "--disable-sync",
                            "--js-flags=--expose-gc")));

    /** An empty page of the size that is looked at everywhere. */
    Page page() {
        Page page = browser.newPage();
        page.setDefaultTimeout(60_000);
        page.setViewportSize(1280, 800);
        return page;
    }

    static void signIn(Page page, Program service) {
        page.navigate(service.url());
        page.getByLabel("Name").fill("admin");
        page.getByLabel("Password").fill(Program.PASSWORD);
        page.keyboard().press("Enter");
        page.waitForSelector("nav");
    }

    @Override
    public void close() {
        playwright.close();
    }
}
