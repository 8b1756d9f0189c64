package org.gantrel.service.git;

import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.IOException;
import java.nio.file.Path;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import org.eclipse.jgit.errors.LargeObjectException;
import org.eclipse.jgit.storage.file.WindowCacheConfig;

/**
 * Works on copies of repositories in a process of its own, for a {@link GitProcess}. How much memory a repository takes is for
 * whoever made it to say; what it takes, it takes from this process.
 */
public final class GitProgram {

    /** Files that are larger are read piece by piece, in bytes; folders and commits are not read then. */
    private static final int LARGE_FILE = 4_000_000;

    /** One that nobody asks any more ends by itself. */
    private static final long UNUSED_SECONDS = 60;

    private GitProgram() {}

    /** Answers what comes by the input until that ends, or nothing has come for a minute. */
    public static void main(String[] arguments) throws Exception {
        var talk = new Talk(new BufferedInputStream(System.in), new BufferedOutputStream(System.out));
        OwnSettings.use();
        var memory = new WindowCacheConfig();
        memory.setStreamFileThreshold(LARGE_FILE);
        memory.install();
        talk.say(Talk.HELLO, "");
        BlockingQueue<Talk.Frame> asked = new LinkedBlockingQueue<>();
        var session = new HostSession(talk);
        var ear = new Thread(() -> listen(talk, asked, session), "ear");
        ear.setDaemon(true);
        ear.start();
        for (Talk.Frame next; (next = asked.poll(UNUSED_SECONDS, TimeUnit.SECONDS)) != null; ) {
            talk.say(Talk.ANSWER, answer(next.as(Talk.Ask.class), session));
        }
        System.exit(0);
    }

    private static void listen(Talk talk, BlockingQueue<Talk.Frame> asked, HostSession session) {
        try {
            for (Talk.Frame next; (next = talk.hear()) != null; ) {
                if (next.kind() == Talk.ASK) {
                    asked.add(next);
                } else {
                    session.hear(next);
                }
            }
        } catch (IOException e) {
            // whoever asked has gone
        }
        Runtime.getRuntime().halt(0);
    }

    private static Talk.Answer answer(Talk.Ask ask, HostSession session) {
        try (var copy = new GitCopy(Path.of(ask.folder()), ask.source())) {
            switch (ask.wish()) {
                case BRING -> copy.bring(new RemoteCopy(ask.source(), ask.address(), ask.headers(), session));
                case TIDY -> copy.tidy();
                case KNOWN -> {
                    return new Talk.Answer("", false, copy.isKnown(), "");
                }
                case STATE -> {
                    return new Talk.Answer("", false, true, copy.state());
                }
            }
            return Talk.Answer.fine();
        } catch (SourceRefused e) {
            return new Talk.Answer(e.getMessage(), true, false, "");
        } catch (LargeObjectException e) {
            String trouble = "the repository at " + ask.source().address() + " holds a folder or a commit of more than "
                    + LARGE_FILE / 1_000_000 + " MB, too large to be taken";
            return new Talk.Answer(trouble, true, false, "");
        } catch (IOException | RuntimeException e) {
            return new Talk.Answer(String.valueOf(e.getMessage()), false, false, "");
        }
    }
}
