package org.gantrel.core.run;

import java.io.IOException;
import java.io.InputStream;
import java.io.StringReader;
import java.math.BigDecimal;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;
import org.gantrel.core.run.XmlTags.Tag;

/**
 * Reads test results in the JUnit XML form: an item a test case. Nothing outside of the file is ever fetched, and however
 * large it is, no more than a tag of it is in memory at a time.
 */
public final class TestResults {

    /** How many items are read in all. */
    public static final int MOST_ITEMS = 10_000;

    /** Of a name, and of what was seen: more of them is never shown. */
    private static final int LONGEST = 1_000;

    private static final int LONGEST_NUMBER = 40;

    private static final Map<String, RunState> FOUND =
            Map.of("failure", RunState.FAILED, "error", RunState.FAILED, "skipped", RunState.SKIPPED);

    private TestResults() {}

    /**
     * The test cases of a file.
     *
     * @param most so many of them at most
     * @throws XMLStreamException where it is no XML
     */
    public static List<Item> read(InputStream file, int most) throws IOException, XMLStreamException {
        var tags = new XmlTags(file);
        var items = new ArrayList<Item>();
        Optional<Tag> next = tags.next();
        while (next.isPresent() && items.size() < most) {
            if (next.get().begins() && next.get().name().equals("testcase")) {
                items.add(testCase(next.get(), tags));
            }
            next = tags.next();
        }
        return items;
    }

    private static Item testCase(Tag tag, XmlTags tags) throws IOException, XMLStreamException {
        XMLStreamReader about = attributes(tag);
        String name = attribute(about, "classname").map(group -> group + ": ").orElse("")
                + attribute(about, "name").orElse("without a name");
        Duration took = attribute(about, "time").map(TestResults::seconds).orElse(Duration.ZERO);
        RunState state = RunState.SUCCEEDED;
        String seen = "";
        Optional<Tag> next = tag.ends() ? Optional.empty() : tags.next();
        while (next.isPresent()
                && !(next.get().ends()
                        && !next.get().begins()
                        && next.get().name().equals("testcase"))) {
            RunState found = next.get().begins() ? FOUND.get(next.get().name()) : null;
            if (found != null) {
                state = found;
                seen = attribute(attributes(next.get()), "message").orElse("");
            }
            next = tags.next();
        }
        return new Item(start(name), state, start(seen), took);
    }

    /** Where the attributes of a tag can be asked for. */
    private static XMLStreamReader attributes(Tag tag) throws XMLStreamException {
        XMLInputFactory factory = XMLInputFactory.newDefaultFactory();
        factory.setProperty(XMLInputFactory.SUPPORT_DTD, false);
        factory.setProperty(XMLInputFactory.IS_SUPPORTING_EXTERNAL_ENTITIES, false);
        // what a prefix stands for is said elsewhere
        factory.setProperty(XMLInputFactory.IS_NAMESPACE_AWARE, false);
        String text = tag.text();
        String alone = tag.ends() ? text : text.substring(0, text.length() - 1) + "/>";
        XMLStreamReader reader = factory.createXMLStreamReader(new StringReader(alone));
        reader.nextTag();
        return reader;
    }

    private static Optional<String> attribute(XMLStreamReader reader, String name) {
        return Optional.ofNullable(reader.getAttributeValue(null, name)).filter(text -> !text.isBlank());
    }

    private static Duration seconds(String text) {
        try {
            return text.length() > LONGEST_NUMBER
                    ? Duration.ZERO
                    : Duration.ofMillis(
                            new BigDecimal(text.strip()).movePointRight(3).longValue());
        } catch (NumberFormatException e) {
            return Duration.ZERO;
        }
    }

    private static String start(String text) {
        return text.length() <= LONGEST ? text : text.substring(0, LONGEST - 3) + "...";
    }
}
