package org.gantrel.service.database;

import java.io.DataOutputStream;
import java.io.IOException;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.sql.Date;
import java.sql.SQLException;
import java.sql.Time;
import java.sql.Timestamp;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.OffsetTime;
import java.time.ZonedDateTime;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.UUID;
import java.util.function.Function;

/** How values of databases go from one process to another: a letter for what each is, and what it is. */
final class Values {

    /** An object that stays in the process where it is, by its number there, and what it is seen as. */
    record Ref(int id, String face) {}

    /** What is written as a text and read from it. */
    private static final Map<Class<?>, Function<String, Object>> AS_TEXT = asText();

    private static final int DEEPEST = 8;

    /** A letter may stand for what takes many times as much memory. */
    static final int MOST_ELEMENTS = 1_000_000;

    private Values() {}

    private static Map<Class<?>, Function<String, Object>> asText() {
        var all = new LinkedHashMap<Class<?>, Function<String, Object>>();
        all.put(BigDecimal.class, BigDecimal::new);
        all.put(BigInteger.class, BigInteger::new);
        all.put(LocalDate.class, LocalDate::parse);
        all.put(LocalTime.class, LocalTime::parse);
        all.put(LocalDateTime.class, LocalDateTime::parse);
        all.put(OffsetDateTime.class, OffsetDateTime::parse);
        all.put(OffsetTime.class, OffsetTime::parse);
        all.put(ZonedDateTime.class, ZonedDateTime::parse);
        all.put(UUID.class, UUID::fromString);
        return all;
    }

    /** Whether a value is one that can be written, but for what an array holds. */
    static boolean isKnown(Object value) {
        return value == null
                || value instanceof Boolean
                || value instanceof Number
                || value instanceof String
                || value instanceof byte[]
                || value instanceof Date
                || value instanceof Time
                || value instanceof Timestamp
                || AS_TEXT.containsKey(value.getClass());
    }

    static void write(DataOutputStream out, Object value) throws IOException {
        if (value == null) {
            out.writeByte('n');
        } else if (value instanceof Boolean yes) {
            out.writeByte(yes ? 'y' : 'z');
        } else if (value instanceof Integer || value instanceof Short || value instanceof Byte) {
            out.writeByte('i');
            out.writeInt(((Number) value).intValue());
        } else if (value instanceof Long number) {
            out.writeByte('l');
            out.writeLong(number);
        } else if (value instanceof Double number) {
            out.writeByte('d');
            out.writeDouble(number);
        } else if (value instanceof Float number) {
            out.writeByte('f');
            out.writeFloat(number);
        } else if (value instanceof byte[] bytes) {
            out.writeByte('b');
            bytes(out, bytes);
        } else if (value instanceof Timestamp at) {
            out.writeByte('S');
            out.writeLong(at.getTime());
            out.writeInt(at.getNanos());
        } else if (value instanceof Date day) {
            out.writeByte('D');
            out.writeLong(day.getTime());
        } else if (value instanceof Time time) {
            out.writeByte('T');
            out.writeLong(time.getTime());
        } else {
            writeOther(out, value);
        }
    }

    private static void writeOther(DataOutputStream out, Object value) throws IOException {
        if (value instanceof Ref ref) {
            out.writeByte('h');
            out.writeInt(ref.id());
            text(out, ref.face());
        } else if (value instanceof int[] numbers) {
            out.writeByte('I');
            out.writeInt(numbers.length);
            for (int number : numbers) {
                out.writeInt(number);
            }
        } else if (value instanceof Object[] all) {
            out.writeByte('a');
            out.writeInt(all.length);
            for (Object each : all) {
                write(out, each);
            }
        } else {
            int kind = 0;
            for (Class<?> each : AS_TEXT.keySet()) {
                if (each.isInstance(value)) {
                    out.writeByte('0' + kind);
                    text(out, value.toString());
                    return;
                }
                kind++;
            }
            out.writeByte('s');
            text(out, value.toString());
        }
    }

    static void text(DataOutputStream out, String text) throws IOException {
        bytes(out, text.getBytes(StandardCharsets.UTF_8));
    }

    private static void bytes(DataOutputStream out, byte[] bytes) throws IOException {
        out.writeInt(bytes.length);
        out.write(bytes);
    }

    static Object read(ByteBuffer in) throws IOException {
        return read(in, 0);
    }

    private static Object read(ByteBuffer in, int depth) throws IOException {
        if (depth > DEEPEST) {
            throw new IOException("a value within values within values");
        }
        byte kind = in.get();
        return switch (kind) {
            case 'n' -> null;
            case 'y' -> true;
            case 'z' -> false;
            case 'i' -> in.getInt();
            case 'l' -> in.getLong();
            case 'd' -> in.getDouble();
            case 'f' -> in.getFloat();
            case 'b' -> bytes(in);
            case 's' -> text(in);
            case 'S' -> {
                var at = new Timestamp(in.getLong());
                at.setNanos(in.getInt());
                yield at;
            }
            case 'D' -> new Date(in.getLong());
            case 'T' -> new Time(in.getLong());
            case 'h' -> new Ref(in.getInt(), text(in));
            case 'I' -> {
                int[] numbers = new int[length(in, Integer.BYTES)];
                for (int i = 0; i < numbers.length; i++) {
                    numbers[i] = in.getInt();
                }
                yield numbers;
            }
            case 'a' -> {
                int length = length(in, 1);
                if (length > MOST_ELEMENTS) {
                    throw new IOException("an array of " + length + " values");
                }
                Object[] all = new Object[length];
                for (int i = 0; i < all.length; i++) {
                    all[i] = read(in, depth + 1);
                }
                yield all;
            }
            default -> parsed(kind - '0', text(in));
        };
    }

    private static Object parsed(int kind, String text) throws IOException {
        if (kind < 0 || kind >= AS_TEXT.size()) {
            throw new IOException("a value of no kind that is known");
        }
        try {
            return AS_TEXT.values().stream()
                    .skip(kind)
                    .findFirst()
                    .orElseThrow()
                    .apply(text);
        } catch (RuntimeException e) {
            throw new IOException("a value that cannot be read", e);
        }
    }

    /** How many there are, where so many can be. */
    private static int length(ByteBuffer in, int bytesEach) throws IOException {
        int length = in.getInt();
        if (length < 0 || (long) length * bytesEach > in.remaining()) {
            throw new IOException("a value of " + length);
        }
        return length;
    }

    private static byte[] bytes(ByteBuffer in) throws IOException {
        byte[] bytes = new byte[length(in, 1)];
        in.get(bytes);
        return bytes;
    }

    /** A text; where it stands in an array it is read there, since it may be long. */
    static String text(ByteBuffer in) throws IOException {
        int length = length(in, 1);
        String text = new String(in.array(), in.arrayOffset() + in.position(), length, StandardCharsets.UTF_8);
        in.position(in.position() + length);
        return text;
    }

    /** What a database said, with all that it said after it. */
    static void writeTrouble(DataOutputStream out, SQLException trouble) throws IOException {
        int most = 8;
        SQLException each = trouble;
        for (; each != null && most > 0; each = each.getNextException(), most--) {
            out.writeByte('e');
            write(out, String.valueOf(each.getMessage()));
            write(out, each.getSQLState());
            out.writeInt(each.getErrorCode());
        }
        out.writeByte('.');
    }

    static SQLException readTrouble(ByteBuffer in) throws IOException {
        SQLException first = null;
        while (in.get() == 'e') {
            var next = new SQLException((String) read(in), (String) read(in), in.getInt());
            if (first == null) {
                first = next;
            } else {
                first.setNextException(next);
            }
        }
        return first == null ? new SQLException("the database said nothing") : first;
    }
}
