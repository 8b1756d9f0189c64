package org.gantrel.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.InputStream;
import java.io.SequenceInputStream;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("Test results")
class TestResultsTest {

    private static final int LARGE = 60_000_000;

    private static List<Item> read(InputStream file) throws Exception {
        return TestResults.read(file, TestResults.MOST_ITEMS);
    }

    private static List<Item> read(String xml, Charset as) throws Exception {
        return read(new ByteArrayInputStream(xml.getBytes(as)));
    }

    /** The same by a reader of whole documents. */
    private static List<String> naive(String xml) throws XMLStreamException {
        XMLStreamReader reader = XMLInputFactory.newDefaultFactory()
                .createXMLStreamReader(new ByteArrayInputStream(xml.getBytes(StandardCharsets.UTF_8)));
        var cases = new ArrayList<String>();
        while (reader.hasNext()) {
            int event = reader.next();
            if (event == XMLStreamConstants.START_ELEMENT) {
                String name = reader.getLocalName();
                if (name.equals("testcase")) {
                    cases.add(reader.getAttributeValue(null, "name") + " succeeded ");
                } else if (name.equals("failure") || name.equals("skipped")) {
                    String state = name.equals("failure") ? " failed " : " skipped ";
                    String last = cases.remove(cases.size() - 1);
                    cases.add(last.substring(0, last.indexOf(' ')) + state + reader.getAttributeValue(null, "message"));
                }
            }
        }
        return cases;
    }

    @Test
    @DisplayName("are what a reader of whole documents finds, whatever stands between the tags")
    void areThoseOfTheDocument() throws Exception {
        var random = new Random(21);
        List<String> between = List.of(
                "",
                " ",
                "\n",
                "text &amp; more",
                "<!-- <testcase name='no'/> - > -->",
                "<!---->",
                "<![CDATA[<testcase name='no'/>]]>",
                "<![CDATA[]]]]>",
                "<?look <testcase?>",
                "<out a='>'>x</out>",
                "<properties/>",
                "<system-out><![CDATA[a ]] > ]>]]></system-out>",
                "<?x ??>",
                "é");
        List<String> inside = List.of(
                "",
                "<failure message='a &lt; b' type=\"'\">trace</failure>",
                "<skipped message=\"x&#x41;&gt;\"/>",
                "<failure message='>'/>");
        for (int round = 0; round < 2_000; round++) {
            var xml = new StringBuilder(random.nextBoolean() ? "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n" : "");
            xml.append(random.nextInt(4) == 0 ? "<!DOCTYPE x [ <!ELEMENT testcase ANY> <!-- > --> ]>\n" : "");
            xml.append("<testsuites xmlns:u='urn:u'><testsuite>");
            for (int i = random.nextInt(5); i > 0; i--) {
                xml.append(between.get(random.nextInt(between.size())));
                String name = "u:testcase ".substring(random.nextInt(2) * 2);
                String open =
                        "<" + name + (random.nextBoolean() ? "name='n" + i + "&quot;'" : "\n name = \"n" + i + "\"");
                xml.append(
                        random.nextInt(3) == 0
                                ? open + " />"
                                : open + " >" + inside.get(random.nextInt(inside.size()))
                                        + between.get(random.nextInt(between.size())) + "</" + name + ">");
            }
            xml.append("</testsuite></testsuites>");
            assertThat(read(xml.toString(), StandardCharsets.UTF_8))
                    .as(xml.toString())
                    .extracting(item -> item.name() + " " + item.state().word() + " " + item.seen())
                    .isEqualTo(naive(xml.toString()));
        }
    }

    @ParameterizedTest(name = "in {0}")
    @CsvSource({"UTF-8", "UTF-16", "ISO-8859-1", "windows-1252"})
    @DisplayName("are read in the encoding that the file has")
    void haveEncodings(String encoding) throws Exception {
        String xml = "<?xml version='1.0' encoding='" + encoding + "'?><testsuite><testcase name='Fähre'/></testsuite>";
        assertThat(read(xml, Charset.forName(encoding))).extracting(Item::name).containsExactly("Fähre");
        assertThatThrownBy(() -> read("<?xml version='1.0' encoding='sailor'?><t/>", StandardCharsets.UTF_8))
                .hasMessage("the encoding sailor is not known");
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(
            delimiter = '|',
            value = {
                "'' | it is empty",
                "no xml | it does not begin with a tag",
                "<t><testcase name='a'> | it ends before its tags do",
                "<t></t></t> | it ends what has not begun: </t>",
                "<t><testcase name='a | it ends within <testcase name='a",
                "<t><![CDATA[ ]] </t> | it ends where ]]> is missing",
                "<t><testcase name=a/></t> | ParseError at"
            })
    @DisplayName("that are none say what is wrong")
    void areRefused(String xml, String why) {
        assertThatThrownBy(() -> read(xml, StandardCharsets.UTF_8))
                .isInstanceOf(XMLStreamException.class)
                .hasMessageContaining(why);
    }

    @ParameterizedTest(name = "{0} ... {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "<t><![CDATA[        | ]]><testcase name='opens'/></t>",
                "<t><!--             | --><testcase name='opens'/></t>",
                "<t><?x              | ?><testcase name='opens'/></t>",
                "<t><system-out>     | </system-out><testcase name='opens'/></t>"
            })
    @DisplayName("may be as large as they like")
    void mayBeLarge(String begin, String end) throws Exception {
        assertThat(read(large(begin, end))).extracting(Item::name).containsExactly("opens");
    }

    @ParameterizedTest(name = "{0} ...")
    @CsvSource({"<t><testcase name='", "<t><", "<t><testcase ", "<!DOCTYPE "})
    @DisplayName("keep no more than a tag, which is refused where it is too long")
    void areBounded(String begin) {
        assertThatThrownBy(() -> read(large(begin, "'/></t>")))
                .isInstanceOf(XMLStreamException.class)
                .hasMessageContaining(
                        "a tag has more than 1000000 characters: " + begin.substring(begin.lastIndexOf('<')));
    }

    @Test
    @DisplayName("are no more, and no longer, than anybody looks at")
    void areCut() throws Exception {
        String xml = "<t>" + "<testcase name='x'/>".repeat(12_000) + "</t>";
        assertThat(read(xml, StandardCharsets.UTF_8)).hasSize(TestResults.MOST_ITEMS);
        List<Item> items = read(
                "<t><testcase name='" + "n".repeat(5_000) + "' time='" + "1".repeat(500_000) + "'><error message='"
                        + "m".repeat(5_000) + "'/></testcase></t>",
                StandardCharsets.UTF_8);
        assertThat(items).singleElement().satisfies(item -> {
            assertThat(item.name()).hasSize(1_000).endsWith("n...");
            assertThat(item.seen()).hasSize(1_000).endsWith("m...");
            assertThat(item.took()).isZero();
        });
    }

    private static InputStream large(String begin, String end) {
        var middle = new InputStream() {
            private int left = LARGE;

            @Override
            public int read() {
                return left-- > 0 ? 'a' : -1;
            }

            @Override
            public int read(byte[] into, int from, int most) {
                int many = Math.min(most, left);
                java.util.Arrays.fill(into, from, from + Math.max(0, many), (byte) 'a');
                left -= Math.max(0, many);
                return many <= 0 ? -1 : many;
            }
        };
        return new SequenceInputStream(Collections.enumeration(List.of(
                new ByteArrayInputStream(begin.getBytes(StandardCharsets.UTF_8)),
                middle,
                new ByteArrayInputStream(end.getBytes(StandardCharsets.UTF_8)))));
    }
}
