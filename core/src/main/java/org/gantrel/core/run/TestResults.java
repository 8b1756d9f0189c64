package org.gantrel.core.run;

import java.io.InputStream;
import java.math.BigDecimal;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;

/** Reads test results in the JUnit XML form: an item a test case. Nothing outside of the file is ever fetched. */
public final class TestResults {

    private static final int MOST_ITEMS = 10_000;

    private TestResults() {}

    /**
     * The test cases of a file.
     *
     * @throws XMLStreamException where it is no XML
     */
    public static List<Item> read(InputStream file) throws XMLStreamException {
        XMLInputFactory factory = XMLInputFactory.newDefaultFactory();
        factory.setProperty(XMLInputFactory.SUPPORT_DTD, false);
        factory.setProperty(XMLInputFactory.IS_SUPPORTING_EXTERNAL_ENTITIES, false);
        XMLStreamReader reader = factory.createXMLStreamReader(file);
        var items = new ArrayList<Item>();
        while (reader.hasNext() && items.size() < MOST_ITEMS) {
            boolean begins = reader.next() == XMLStreamConstants.START_ELEMENT;
            if (begins && reader.getLocalName().equals("testcase")) {
                items.add(testCase(reader));
            }
        }
        return items;
    }

    private static Item testCase(XMLStreamReader reader) throws XMLStreamException {
        String name = attribute(reader, "classname").map(group -> group + ": ").orElse("")
                + attribute(reader, "name").orElse("without a name");
        Duration took = attribute(reader, "time").map(TestResults::seconds).orElse(Duration.ZERO);
        RunState state = RunState.SUCCEEDED;
        String seen = "";
        while (reader.hasNext()) {
            int event = reader.next();
            if (event == XMLStreamConstants.END_ELEMENT && reader.getLocalName().equals("testcase")) {
                break;
            }
            if (event == XMLStreamConstants.START_ELEMENT) {
                RunState found = stateOf(reader.getLocalName());
                if (found != RunState.SUCCEEDED) {
                    state = found;
                    seen = attribute(reader, "message").orElse("");
                }
            }
        }
        return new Item(name, state, seen, took);
    }

    private static RunState stateOf(String element) {
        return switch (element) {
            case "failure", "error" -> RunState.FAILED;
            case "skipped" -> RunState.SKIPPED;
            default -> RunState.SUCCEEDED;
        };
    }

    private static Optional<String> attribute(XMLStreamReader reader, String name) {
        return Optional.ofNullable(reader.getAttributeValue(null, name)).filter(text -> !text.isBlank());
    }

    private static Duration seconds(String text) {
        try {
            return Duration.ofMillis(
                    new BigDecimal(text.strip()).movePointRight(3).longValue());
        } catch (NumberFormatException e) {
            return Duration.ZERO;
        }
    }
}
