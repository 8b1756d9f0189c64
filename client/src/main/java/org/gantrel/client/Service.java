package org.gantrel.client;

import java.util.Optional;
import org.gantrel.client.api.Api;
import org.gantrel.client.api.SignInFile;
import picocli.CommandLine.Option;

/** The options that say which service a command speaks to. */
public final class Service {

    private static final String USUAL = "http://127.0.0.1:8480";

    @Option(
            names = "--url",
            paramLabel = "URL",
            description = "The service (GANTREL_URL, or else http://127.0.0.1:8480).")
    private String url;

    public String url() {
        if (url != null) {
            return url;
        }
        return Optional.ofNullable(System.getenv("GANTREL_URL"))
                .filter(text -> !text.isBlank())
                .orElse(USUAL);
    }

    /** The API, signed in by GANTREL_TOKEN or by an earlier login. */
    public Api api() {
        Optional<String> token = Optional.ofNullable(System.getenv("GANTREL_TOKEN"))
                .filter(text -> !text.isBlank())
                .or(() -> new SignInFile().token(url()));
        return new Api(url(), token);
    }

    public Api withoutToken() {
        return new Api(url(), Optional.empty());
    }
}
