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

    /** Where a piece begins: in the log, and in the packed file. */
    private record Piece(long plain, long packed) {}

    private Path packed() {
        return path.resolveSibling("log.gz");
    }

    private Path index() {
        return path.resolveSibling("log.index");
    }

    /** How many bytes it has, unpacked; none where there is no log. */
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

    /** Up to so many bytes from one on; fewer only at the end. */
    public byte[] read(long from, int most) throws IOException {
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
        try (InputStream in = Files.newInputStream(path);
                var out = Files.newOutputStream(fresh)) {
            byte[] piece = in.readNBytes(PIECE);
            while (piece.length > 0) {
                pieces.add(new Piece(plain, written));
                var bytes = new ByteArrayOutputStream();
                try (var gzip = new GZIPOutputStream(bytes)) {
                    gzip.write(piece);
                }
                bytes.writeTo(out);
                plain += piece.length;
                written += bytes.size();
                piece = in.readNBytes(PIECE);
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

    /** Deletes it. */
    void delete() throws IOException {
        for (Path each : Arrays.asList(path, index(), packed())) {
            Files.deleteIfExists(each);
        }
    }
}
