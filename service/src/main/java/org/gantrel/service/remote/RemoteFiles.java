package org.gantrel.service.remote;

import java.io.IOException;
import java.nio.file.FileSystem;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import org.apache.sshd.client.SshClient;
import org.apache.sshd.client.session.ClientSession;
import org.apache.sshd.sftp.client.SftpClient;
import org.apache.sshd.sftp.client.SftpErrorDataHandler;
import org.apache.sshd.sftp.client.SftpVersionSelector;
import org.apache.sshd.sftp.client.fs.SftpFileSystemProvider;
import org.apache.sshd.sftp.client.impl.DefaultSftpClientFactory;
import org.gantrel.service.places.FilesBelow;
import org.gantrel.service.places.FoldersToRead;

/** The files of another host, by SFTP over a connection that others use too. */
final class RemoteFiles implements AutoCloseable {

    private final List<SftpClient> channels = new CopyOnWriteArrayList<>();
    private final FileSystem files;
    private volatile boolean left;

    RemoteFiles(ClientSession session) throws IOException {
        var known = new DefaultSftpClientFactory() {
            @Override
            public SftpClient createSftpClient(
                    ClientSession through, SftpVersionSelector versions, SftpErrorDataHandler errors)
                    throws IOException {
                SftpClient channel = super.createSftpClient(through, versions, errors);
                channels.add(channel);
                if (left) {
                    leave();
                }
                return channel;
            }
        };
        files = new SftpFileSystemProvider(
                        (SshClient) session.getFactoryManager(),
                        known,
                        SftpVersionSelector.CURRENT,
                        SftpErrorDataHandler.EMPTY)
                .newFileSystem(session);
    }

    /** Those below a folder: what a link takes out of it is not there. */
    FoldersToRead below(String folder) {
        return new FilesBelow(files.getPath(folder));
    }

    /** Whoever looks at them, or waits for the host to show them, gets an error at once. */
    void leave() {
        left = true;
        channels.forEach(channel -> channel.getClientChannel().close(true));
    }

    @Override
    public void close() throws IOException {
        files.close();
    }
}
