package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import java.util.TreeMap;

/** The books that the commands of a night keep themselves: a line as each begins, and a line as it ends. */
final class NightBooks {

    /** What a command runs that keeps books: its job, a value, how long it takes, and how many of its tries fail. */
    static final String COMMAND =
            """
            end() { echo "E $GANTREL_RUN $GANTREL_TRY $(date +%s%N) $1" >> books; exit $1; }
            trap 'end 143' TERM
            echo "B $GANTREL_RUN $GANTREL_TRY $(date +%s%N) $1 $2" >> books
            sleep "$3" & wait
            code=0; test "$GANTREL_TRY" -gt "$4" || code=7
            end $code""";

    /** A try as its command wrote it down itself, in nanoseconds since 1970. */
    static final class Try {
        final long run;
        final int number;
        final String job;
        final String value;
        final long begin;
        long end;
        int code;

        private Try(String[] words) {
            run = Long.parseLong(words[1]);
            number = Integer.parseInt(words[2]);
            begin = Long.parseLong(words[3]);
            job = words[4];
            value = words[5];
        }

        @Override
        public String toString() {
            return "try " + number + " of run " + run + " of " + job + " ended with " + code + " after " + (end - begin)
                    + " ns";
        }
    }

    private NightBooks() {}

    /** Whether all that have begun have ended. */
    static boolean areClosed(String books) {
        return count(books, "B ") == count(books, "E ");
    }

    private static long count(String books, String what) {
        return books.lines().filter(line -> line.startsWith(what)).count();
    }

    /** All tries; none has begun twice. */
    static Map<String, Try> read(String books) {
        Map<String, Try> tries = new TreeMap<>();
        books.lines().map(line -> line.split(" ")).forEach(words -> {
            String key = words[1] + " " + words[2];
            if (words[0].equals("B")) {
                assertThat(tries.put(key, new Try(words)))
                        .as("begun twice: " + key)
                        .isNull();
            } else {
                tries.get(key).end = Long.parseLong(words[3]);
                tries.get(key).code = Integer.parseInt(words[4]);
            }
        });
        return tries;
    }
}
