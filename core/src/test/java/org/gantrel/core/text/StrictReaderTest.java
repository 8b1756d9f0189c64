package org.gantrel.core.text;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.util.Random;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("Text in UTF-8")
class StrictReaderTest {

    /** Gives as few bytes as it likes at a time, as a network does. */
    private static InputStream slow(byte[] bytes, Random random) {
        return new ByteArrayInputStream(bytes) {
            @Override
            public synchronized int read(byte[] into, int offset, int length) {
                return super.read(into, offset, length == 0 ? 0 : 1 + random.nextInt(length));
            }
        };
    }

    private static String read(byte[] bytes, Random random) {
        var text = new StringBuilder();
        try (var reader = new StrictReader(slow(bytes, random))) {
            var piece = new char[1 + random.nextInt(50)];
            for (int got = reader.read(piece); got >= 0; got = reader.read(piece)) {
                text.append(piece, 0, got);
            }
            return text.toString();
        } catch (IOException e) {
            return text + "|" + e.getMessage();
        }
    }

    /** The same in one piece. */
    private static String expected(byte[] bytes) {
        int whole = bytes.length;
        while (true) {
            try {
                String text = StandardCharsets.UTF_8
                        .newDecoder()
                        .decode(ByteBuffer.wrap(bytes, 0, whole))
                        .toString();
                String plain = text.startsWith("\uFEFF") ? text.substring(1) : text;
                long line = plain.chars().filter(letter -> letter == '\n').count() + 1;
                return whole == bytes.length
                        ? plain
                        : plain + "|line " + line + " is not written in UTF-8, which is expected here";
            } catch (CharacterCodingException e) {
                whole--;
            }
        }
    }

    @Test
    @DisplayName("is read as it is, and what is none fails with its line, wherever the pieces end")
    void generated() {
        var random = new Random(20261129);
        String[] parts = {"a", "Skarhølm", "港", "\uD83D\uDEA2", "\n", "\r\n", ";", "\uFEFF"};
        for (int round = 0; round < 20_000; round++) {
            var text = new StringBuilder();
            for (int i = random.nextInt(40); i > 0; i--) {
                text.append(parts[random.nextInt(parts.length)]);
            }
            byte[] bytes = text.toString().getBytes(StandardCharsets.UTF_8);
            if (bytes.length > 0 && random.nextBoolean()) {
                bytes[random.nextInt(bytes.length)] = (byte) random.nextInt(256);
            }
            assertThat(read(bytes, random)).as("round %d", round).isEqualTo(expected(bytes));
        }
        String large = "Skarhølm;7\n".repeat(5_000);
        assertThat(read(large.getBytes(StandardCharsets.UTF_8), random)).isEqualTo(large);
        byte[] latin = (large + "\u00d8y").getBytes(StandardCharsets.ISO_8859_1);
        assertThat(read(latin, random)).isEqualTo("Skarh|line 1 is not written in UTF-8, which is expected here");
    }
}
