package org.gantrel.service.guard;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.StandardOpenOption;

/** The body of one call as it arrives: in memory while it is small, on the disk from then on. */
final class Body implements AutoCloseable {

    private final ByteArrayOutputStream begin = new ByteArrayOutputStream(512);
    private FileChannel file;
    private long size;

    long size() {
        return size;
    }

    boolean isLarge() {
        return size > LargeBodies.SMALL;
    }

    void add(byte[] bytes, int length) throws IOException {
        size += length;
        if (!isLarge()) {
            begin.write(bytes, 0, length);
            return;
        }
        if (file == null) {
            // it has no name from now on, so that nothing of it is left behind, whatever happens
            file = FileChannel.open(
                    Files.createTempFile("body", ""),
                    StandardOpenOption.READ,
                    StandardOpenOption.WRITE,
                    StandardOpenOption.DELETE_ON_CLOSE);
            write(begin.toByteArray(), begin.size());
            begin.reset();
        }
        write(bytes, length);
    }

    private void write(byte[] bytes, int length) throws IOException {
        ByteBuffer left = ByteBuffer.wrap(bytes, 0, length);
        while (left.hasRemaining()) {
            file.write(left);
        }
    }

    /** From its begin on, once it is there. */
    InputStream read() throws IOException {
        return file == null ? new ByteArrayInputStream(begin.toByteArray()) : Channels.newInputStream(file.position(0));
    }

    @Override
    public void close() throws IOException {
        if (file != null) {
            file.close();
        }
    }
}
