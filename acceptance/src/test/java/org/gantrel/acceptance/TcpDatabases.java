package org.gantrel.acceptance;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** H2's server with databases in memory, from the service's own libraries. */
final class TcpDatabases implements AutoCloseable {

    private static final Pattern PORT = Pattern.compile(":(\\d+)");

    private final Process process;
    private final String port;

    TcpDatabases() {
        try {
            process = new ProcessBuilder(
                            Path.of(System.getProperty("java.home"), "bin/java").toString(),
                            "-cp",
                            Shell.ROOT + "/service/target/lib/*",
                            "org.h2.tools.Server",
                            "-tcp",
                            "-tcpPort",
                            "0",
                            "-ifNotExists")
                    .redirectErrorStream(true)
                    .start();
            String said = new BufferedReader(new InputStreamReader(process.getInputStream())).readLine();
            Matcher matcher = PORT.matcher(String.valueOf(said).replaceFirst("^.*//", ""));
            if (!matcher.find()) {
                throw new AssertionError("the server of databases said: " + said);
            }
            port = matcher.group(1);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    String url(String name) {
        return "jdbc:h2:tcp://127.0.0.1:" + port + "/mem:" + name;
    }

    @Override
    public void close() {
        process.destroyForcibly();
    }
}
