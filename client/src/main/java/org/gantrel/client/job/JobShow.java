package org.gantrel.client.job;

import java.util.Map;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.api.Api;
import org.gantrel.client.hold.HoldCommand;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.StepTree;
import org.gantrel.client.output.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Shows a job. */
@Command(name = "show", description = "Shows a job: what it does, its parameters, steps and schedules.")
final class JobShow extends ServiceCommand {

    @Parameters(paramLabel = "NAME", description = "The job.")
    private String name;

    @Option(names = "--format", paramLabel = "FORMAT", defaultValue = "table", description = "table or json (table).")
    private Format format;

    @Override
    public Integer call() {
        JsonNode job = api().get("/api/v1/jobs/" + Api.encode(name));
        if (format == Format.json) {
            printer.json(job);
            return 0;
        }
        printer.line(printer.strong(name) + "  " + job.path("kind").asString() + " of "
                + job.path("team").asString() + ", revision "
                + job.path("revision").asInt());
        line("about", job.path("about").asString());
        api().get(Api.path("/api/v1/holds", Map.of("job", name)))
                .forEach(hold -> printer.line("  " + HoldCommand.line(hold)));
        line("usually takes", Times.duration(job, "usual"));
        line(
                "unusually long",
                after(Times.duration(job, "longAfter"))
                        + (!job.has("longAfter") || job.path("rules").has("longAfter")
                                ? ""
                                : ", learnt from its good runs"));
        line("time limit", Times.duration(job, "timeLimit"));
        rules(job.path("rules"));
        String kind = job.path("does").path("kind").asString("");
        line("does", kind.isEmpty() || kind.equals("command") ? "" : kind);
        line("acts as", job.path("actsAs").asString(""));
        line("runs", words(job.path("does").path("command")));
        line("in", job.path("does").path("in").asString(""));
        line("mail on failure", words(job.path("mailOnFailure")));
        section("parameters", job.path("parameters"), JobShow::parameter);
        if (!job.path("steps").isEmpty()) {
            printer.line("  steps");
            new StepTree(job.path("steps"), printer).lines().forEach(line -> printer.line("    " + line));
        }
        section("schedules", job.path("schedules"), JobShow::schedule);
        section("triggers", job.path("triggers"), JsonNode::asString);
        section("used by", job.path("usedBy"), JsonNode::asString);
        section("warnings", job.path("warnings"), JsonNode::asString);
        return 0;
    }

    private void rules(JsonNode rules) {
        line("limit, all tries", Times.duration(rules, "totalLimit"));
        line("stop at", rules.path("stopAt").asString(""));
        line("time to stop", Times.duration(rules, "stopPatience"));
        line("while running", whileRunning(rules.path("whileRunning").asString("")));
        line("apart by", words(rules.path("apartBy")));
        line(
                "lanes",
                rules.path("lanes")
                        .propertyStream()
                        .map(lane -> lane.getKey()
                                + (lane.getValue().asInt() == 1
                                        ? ""
                                        : " (" + lane.getValue().asInt() + " places)"))
                        .collect(Collectors.joining(", ")));
        line("priority", rules.path("priority").asString(""));
        JsonNode gates = rules.path("gates");
        gates.path("all").forEach(gate -> line("waits for", gate.asString()));
        if (!gates.isMissingNode()) {
            line(
                    "",
                    "for " + Times.duration(gates, "patience") + ", then it "
                            + (gates.path("then").asString().equals("skip") ? "is skipped" : "fails"));
        }
        JsonNode retry = rules.path("retry");
        if (!retry.isMissingNode()) {
            line(
                    "tries",
                    retry.path("tries").asString() + ", the second " + Times.duration(retry, "pause")
                            + " after the first, where it "
                            + retry.path("after")
                                    .valueStream()
                                    .map(JsonNode::asString)
                                    .collect(Collectors.joining(" or "))
                            + narrowed(" with exit code ", retry.path("exitCodes"))
                            + narrowed(" and said ", retry.path("messages")));
        }
    }

    private static String after(String length) {
        return length.isEmpty() ? "" : "after " + length;
    }

    private static String narrowed(String how, JsonNode list) {
        return list.isEmpty()
                ? ""
                : how + list.valueStream().map(JsonNode::asString).collect(Collectors.joining(" or "));
    }

    private static String whileRunning(String word) {
        return word.matches("\\d+") ? word + " may go side by side" : word;
    }

    private void line(String title, String text) {
        if (!text.isEmpty()) {
            printer.line("  %-16s %s".formatted(title, text));
        }
    }

    private void section(String title, JsonNode rows, Function<JsonNode, String> text) {
        if (!rows.isEmpty()) {
            printer.line("  " + title);
            rows.forEach(row -> printer.line("    " + text.apply(row)));
        }
    }

    private static String parameter(JsonNode parameter) {
        String of = parameter.path("of").isEmpty() ? "" : " of " + words(parameter.path("of"));
        String fallback = parameter.has("fallback")
                ? ", usually " + parameter.path("fallback").asString()
                : ", needed";
        String about = parameter.path("about").asString("");
        return parameter.path("name").asString() + ": " + parameter.path("type").asString() + of + fallback
                + (about.isEmpty() ? "" : "; " + about);
    }

    private static String schedule(JsonNode schedule) {
        String next = schedule.path("on").asBoolean()
                ? "next " + schedule.path("next").path(0).asString("never")
                : "off";
        return schedule.path("name").asString() + ": " + schedule.path("phrase").asString() + " ("
                + schedule.path("zone").asString() + "), " + next;
    }

    private static String words(JsonNode list) {
        return list.valueStream().map(JsonNode::asString).collect(Collectors.joining(" "));
    }
}
