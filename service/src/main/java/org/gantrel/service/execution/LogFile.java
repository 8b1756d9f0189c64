package org.gantrel.service.execution;

import java.io.BufferedInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.channels.Channels;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.zip.GZIPInputStream;
import java.util.zip.GZIPOutputStream;

/**
 * The log of a run: plain while it grows, packed when it does not grow any more. Packed it is a gzip file (RFC 1952) of many
 * members, each a piece of the log by itself, and an index of where they begin; so any part of it can be read without the
 * rest, and {@code zcat} reads the whole.
 *
 * @param path of the plain file
 */
public record LogFile(Path path) {

    private static final int PIECE = 128 * 1024;
    private static final int WORTH_PACKING = 64 * 1024;

    /** So far from where the middle is to begin and to end, whole lines are looked for. */
    private static final int LONG_LINE = 64 * 1024;

    /** Where a piece begins: in the log, and in the packed file. */
    private record Piece(long plain, long packed) {}

    /**
     * What was left out of the middle of a log that grew too large. Places in the log stay what they were; there is only
     * nothing to be read between these two.
     *
     * @param from its first byte
     * @param to the first byte after it
     */
    record Gap(long from, long to) {

        boolean holds(long at) {
            return at >= from && at < to;
        }

        long size() {
            return to - from;
        }
    }

    private Path packed() {
        return path.resolveSibling("log.gz");
    }

    private Path index() {
        return path.resolveSibling("log.index");
    }

    private Path gapFile() {
        return path.resolveSibling(path.getFileName() + ".gap");
    }

    /** What was left out; nothing where all is there. */
    Optional<Gap> gap() {
        if (!Files.exists(gapFile())) {
            return Optional.empty();
        }
        try {
            String[] places = Files.readString(gapFile()).strip().split(" ");
            return Optional.of(new Gap(Long.parseLong(places[0]), Long.parseLong(places[1])));
        } catch (IOException | NumberFormatException | ArrayIndexOutOfBoundsException e) {
            return Optional.empty();
        }
    }

    /** Where there is something to be read, at a place or after it. */
    long onward(long at) {
        return gap().filter(gap -> gap.holds(at)).map(Gap::to).orElse(at);
    }

    /**
     * What is to be left out so that a log that is too large becomes smaller: its first half and the last quarter of what it
     * may have stay, at whole lines.
     *
     * @param most how many bytes it may have
     */
    Optional<Gap> excess(long most) throws IOException {
        if (!Files.isRegularFile(path)) {
            return Optional.empty();
        }
        long size = Files.size(path);
        if (size <= most) {
            return Optional.empty();
        }
        Optional<Gap> known = gap();
        if (size - known.map(Gap::size).orElse(0L) <= most) {
            return Optional.empty();
        }
        long from = known.isPresent() ? known.get().from() : afterLine(most / 2 - LONG_LINE, true);
        return Optional.of(new Gap(from, afterLine(size - most / 4, false)));
    }

    /** Where the line begins that is still being written; the end where that is far away. */
    long lastLine() throws IOException {
        return afterLine(Files.size(path) - LONG_LINE, true);
    }

    /** Where a line begins that follows a place: the last such within a long line, or the first; the end of it where none is. */
    private long afterLine(long place, boolean last) throws IOException {
        long begin = Math.max(0, place);
        byte[] bytes = read(begin, LONG_LINE);
        for (int i = 0; i < bytes.length; i++) {
            int at = last ? bytes.length - 1 - i : i;
            if (bytes[at] == '\n') {
                return begin + at + 1;
            }
        }
        return begin + bytes.length;
    }

    /** Makes known what is left out, before it goes; nothing where it did not go after all. */
    void note(Optional<Gap> gap) throws IOException {
        if (gap.isEmpty()) {
            Files.deleteIfExists(gapFile());
            return;
        }
        Path fresh = path.resolveSibling(gapFile().getFileName() + ".new");
        Files.writeString(fresh, gap.get().from() + " " + gap.get().to() + "\n");
        Files.move(fresh, gapFile(), StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
    }

    /** How many bytes it has, unpacked, with what was left out; none where there is no log. */
    public long size() {
        try {
            return Files.size(path);
        } catch (IOException e) {
            return Files.exists(index()) ? packedSize() : 0;
        }
    }

    private long packedSize() {
        try {
            List<Piece> pieces = pieces();
            return pieces.get(pieces.size() - 1).plain();
        } catch (IOException e) {
            return 0;
        }
    }

    /** Up to so many bytes from one on; fewer only at the end, and before what was left out. None within that. */
    public byte[] read(long from, int most) throws IOException {
        Optional<Gap> gap = gap();
        if (gap.filter(each -> each.holds(from)).isPresent()) {
            return new byte[0];
        }
        return readPast(
                from,
                gap.filter(each -> from < each.from())
                        .map(each -> (int) Math.min(most, each.from() - from))
                        .orElse(most));
    }

    private byte[] readPast(long from, int most) throws IOException {
        try (var channel = Files.newByteChannel(path)) {
            channel.position(from);
            return Channels.newInputStream(channel)
                    .readNBytes((int) Math.min(most, Math.max(0, channel.size() - from)));
        } catch (NoSuchFileException e) {
            return Files.exists(index()) ? readPacked(from, most) : new byte[0];
        }
    }

    private byte[] readPacked(long from, int most) throws IOException {
        Piece first = null;
        for (Piece piece : pieces()) {
            if (first == null || piece.plain() <= from) {
                first = piece;
            }
        }
        try (InputStream file = Files.newInputStream(packed())) {
            file.skipNBytes(first.packed());
            if (Files.size(packed()) == first.packed()) {
                return new byte[0];
            }
            var unpacked = new GZIPInputStream(new BufferedInputStream(file), PIECE);
            unpacked.skipNBytes(Math.min(from, packedSize()) - first.plain());
            return unpacked.readNBytes(most);
        }
    }

    private List<Piece> pieces() throws IOException {
        var pieces = new ArrayList<Piece>();
        try (var in = new DataInputStream(new BufferedInputStream(Files.newInputStream(index())))) {
            int count = in.readInt();
            for (int i = 0; i < count; i++) {
                pieces.add(new Piece(in.readLong(), in.readLong()));
            }
        }
        return pieces;
    }

    /** Packs it, where that is worth it. Whenever this is broken off, the log is there whole, plain or packed. */
    void pack() throws IOException {
        if (!Files.isRegularFile(path) || Files.size(path) < WORTH_PACKING) {
            return;
        }
        var pieces = new ArrayList<Piece>();
        Path fresh = path.resolveSibling("log.gz.new");
        long plain = 0;
        long written = 0;
        try (var out = Files.newOutputStream(fresh)) {
            for (byte[] piece = read(plain, PIECE); piece.length > 0; piece = read(plain, PIECE)) {
                pieces.add(new Piece(plain, written));
                var bytes = new ByteArrayOutputStream();
                try (var gzip = new GZIPOutputStream(bytes)) {
                    gzip.write(piece);
                }
                bytes.writeTo(out);
                plain = onward(plain + piece.length);
                written += bytes.size();
            }
        }
        pieces.add(new Piece(plain, written));
        var index = new ByteArrayOutputStream();
        var data = new DataOutputStream(index);
        data.writeInt(pieces.size());
        for (Piece piece : pieces) {
            data.writeLong(piece.plain());
            data.writeLong(piece.packed());
        }
        Path freshIndex = path.resolveSibling("log.index.new");
        Files.write(freshIndex, index.toByteArray());
        Files.move(fresh, packed(), StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
        Files.move(freshIndex, index(), StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
        Files.delete(path);
    }

    /** All that is there, what was left out of the middle passed over. */
    InputStream stream() {
        return new InputStream() {
            private long at;
            private byte[] piece = {};
            private int place;

            private boolean ends() throws IOException {
                if (place == piece.length) {
                    at = onward(at);
                    piece = LogFile.this.read(at, PIECE);
                    at += piece.length;
                    place = 0;
                }
                return piece.length == 0;
            }

            @Override
            public int read() throws IOException {
                return ends() ? -1 : piece[place++] & 0xff;
            }

            @Override
            public int read(byte[] into, int from, int most) throws IOException {
                if (most > 0 && ends()) {
                    return -1;
                }
                int length = Math.min(most, piece.length - place);
                System.arraycopy(piece, place, into, from, length);
                place += length;
                return length;
            }
        };
    }

    /** Deletes it. */
    void delete() throws IOException {
        for (Path each : Arrays.asList(path, index(), packed(), gapFile())) {
            Files.deleteIfExists(each);
        }
    }
}
