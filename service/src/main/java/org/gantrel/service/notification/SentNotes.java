package org.gantrel.service.notification;

import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicLong;
import java.util.stream.Stream;
import org.gantrel.service.settings.Settings;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * What the other side has taken and the database does not say yet: a line in a file for each, which outlasts the service's
 * death and costs far less than a commit. So many messages can be marked with one commit, and none goes out twice for that.
 */
@Component
class SentNotes {

    private static final Logger LOG = LoggerFactory.getLogger(SentNotes.class);

    /**
     * A message that was taken.
     *
     * @param madeAt tells it from another under the same number, in a database that was put back meanwhile
     */
    record Note(long id, Instant madeAt, Instant sentAt) {

        private String line() {
            return id + " " + madeAt.toEpochMilli() + " " + sentAt.toEpochMilli() + "\n";
        }

        /** The note of a line; nothing of one that was not written to its end. */
        private static Stream<Note> of(String line) {
            if (!line.matches("\\d{1,18} \\d{1,15} \\d{1,15}")) {
                return Stream.empty();
            }
            String[] parts = line.split(" ");
            return Stream.of(new Note(
                    Long.parseLong(parts[0]),
                    Instant.ofEpochMilli(Long.parseLong(parts[1])),
                    Instant.ofEpochMilli(Long.parseLong(parts[2]))));
        }
    }

    private static final String SEALED = "~";

    private final Path folder;
    private final AtomicLong sealed = new AtomicLong(System.currentTimeMillis());

    /** Written by one thread each. */
    private final Map<String, FileChannel> open = new ConcurrentHashMap<>();

    SentNotes(Settings settings) {
        this.folder = settings.data().resolve("sent");
    }

    /** Notes one; false where that cannot be, so that it has to be marked at once. */
    boolean write(String channel, Note note) {
        try {
            FileChannel file = open.get(channel);
            if (file == null) {
                Files.createDirectories(folder);
                file = FileChannel.open(folder.resolve(channel), StandardOpenOption.CREATE, StandardOpenOption.APPEND);
                open.put(channel, file);
            }
            var line = ByteBuffer.wrap(note.line().getBytes(StandardCharsets.US_ASCII));
            while (line.hasRemaining()) {
                file.write(line);
            }
            return true;
        } catch (IOException e) {
            LOG.debug("what was sent by {} cannot be noted", channel, e);
            close(channel);
            return false;
        }
    }

    /**
     * Closes the notes of a channel, so that later ones go into a file of their own.
     *
     * @return the files of all that were closed and not forgotten
     */
    List<Path> seal(String channel) {
        close(channel);
        try {
            Path file = folder.resolve(channel);
            if (Files.exists(file)) {
                Files.move(file, folder.resolve(channel + SEALED + sealed.incrementAndGet()));
            }
            return files(channel);
        } catch (IOException e) {
            // they are marked once more when the service starts, which changes nothing
            LOG.debug("what was sent by {} stays noted", channel, e);
            return List.of();
        }
    }

    /** Forgets those of some files: the database says it of all of them. */
    void clear(List<Path> files) {
        for (Path file : files) {
            try {
                Files.deleteIfExists(file);
            } catch (IOException e) {
                LOG.debug("{} stays", file, e);
            }
        }
    }

    private List<Path> files(String channel) throws IOException {
        if (!Files.isDirectory(folder)) {
            return List.of();
        }
        try (Stream<Path> files = Files.list(folder)) {
            return files.filter(file -> channelOf(file).equals(channel)).toList();
        }
    }

    private static List<String> lines(Path file) throws IOException {
        try {
            return Files.readAllLines(file, StandardCharsets.ISO_8859_1);
        } catch (NoSuchFileException e) {
            // it was forgotten meanwhile
            return List.of();
        }
    }

    private static String channelOf(Path file) {
        String name = file.getFileName().toString();
        return name.contains(SEALED) ? name.substring(0, name.indexOf(SEALED)) : name;
    }

    private void close(String channel) {
        FileChannel file = open.remove(channel);
        try {
            if (file != null) {
                file.close();
            }
        } catch (IOException e) {
            LOG.debug("the notes of {} are given up", channel, e);
        }
    }

    @PreDestroy
    void close() {
        open.keySet().forEach(this::close);
    }

    /** What an earlier service has noted and perhaps not marked. */
    List<Note> left(String channel) {
        try {
            var left = new ArrayList<Note>();
            for (Path file : files(channel)) {
                lines(file).stream().flatMap(Note::of).forEach(left::add);
            }
            return left;
        } catch (IOException e) {
            LOG.warn("what an earlier service has sent by {} cannot be read; it may go out twice", channel, e);
            return List.of();
        }
    }

    /** The channels of which something is noted. */
    List<String> channels() {
        if (!Files.isDirectory(folder)) {
            return List.of();
        }
        try (Stream<Path> files = Files.list(folder)) {
            return files.map(SentNotes::channelOf).distinct().toList();
        } catch (IOException e) {
            LOG.warn("what an earlier service has sent cannot be read; it may go out twice", e);
            return List.of();
        }
    }
}
