package org.gantrel.client.event;

import org.gantrel.client.output.Printer;
import org.gantrel.client.output.Times;
import tools.jackson.databind.JsonNode;

/** Draws what caused what as a tree. */
public final class LineageTree {

    private LineageTree() {}

    public static void print(Printer printer, JsonNode part) {
        print(printer, part, "", "");
    }

    private static void print(Printer printer, JsonNode part, String first, String rest) {
        printer.line(first + words(printer, part));
        int count = part.path("caused").size();
        for (int i = 0; i < count; i++) {
            boolean last = i == count - 1;
            print(printer, part.path("caused").get(i), rest + (last ? "└─ " : "├─ "), rest + (last ? "   " : "│  "));
        }
    }

    private static String words(Printer printer, JsonNode part) {
        String title = part.path("title").asString();
        String id = part.path("id").asLong() == 0 ? "" : " " + part.path("id").asLong();
        if (part.has("more")) {
            return "and " + part.path("more").asInt() + " more " + title;
        }
        String what =
                switch (part.path("kind").asString()) {
                    case "event" -> "event" + id + " " + title;
                    case "message" ->
                        "message" + id + " to " + title + ", "
                                + part.path("state").asString();
                    default ->
                        id.isEmpty()
                                ? title
                                : "run" + id + " " + title + "  "
                                        + printer.state(part.path("state").asString(""));
                };
        String how = part.path("how").asString("");
        String asked = part.path("asked").asBoolean() ? "  <- this one" : "";
        return (part.path("asked").asBoolean() ? printer.strong(what) : what)
                + (part.has("at") ? "  " + Times.local(part, "at") : "")
                + (how.isEmpty() ? "" : "  (" + how + ")")
                + asked;
    }
}
