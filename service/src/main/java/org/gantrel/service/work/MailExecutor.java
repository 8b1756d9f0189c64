package org.gantrel.service.work;

import jakarta.mail.MessagingException;
import jakarta.mail.internet.AddressException;
import jakarta.mail.internet.InternetAddress;
import jakarta.mail.internet.MimeMessage;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.gantrel.core.action.MailMessage;
import org.gantrel.core.run.Ending;
import org.gantrel.core.text.Words;
import org.gantrel.service.execution.StepFiles;
import org.gantrel.service.mail.BoundedSockets;
import org.gantrel.service.mail.SmtpSender;
import org.gantrel.service.places.FileTrouble;
import org.gantrel.service.places.Hands;
import org.gantrel.service.settings.Settings;
import org.springframework.core.io.FileSystemResource;
import org.springframework.mail.MailException;
import org.springframework.mail.javamail.JavaMailSenderImpl;
import org.springframework.mail.javamail.MimeMessageHelper;
import org.springframework.stereotype.Component;
import org.springframework.util.FileSystemUtils;

/** Sends mails, with outputs of the chain's earlier steps where they are wanted. */
@Component
class MailExecutor implements ActionExecutor<MailMessage> {

    private final MailServers servers;

    /** Few mail servers take more of one file, and none takes so much of all files together; in bytes. */
    private static final int LARGEST = 25_000_000;

    private static final int LARGEST_TOGETHER = 100_000_000;
    private static final int MB = 1_000_000;
    private static final int PIECE = 64_000;

    private final StepFiles steps;

    MailExecutor(MailServers servers, StepFiles steps) {
        this.servers = servers;
        this.steps = steps;
    }

    @Override
    public Class<MailMessage> type() {
        return MailMessage.class;
    }

    @Override
    public Ending perform(MailMessage letter, Execution work) throws MessagingException, IOException {
        Settings.Mail server = servers.of(work.actor());
        // what goes along waits on the disk: the files of one mail could fill the memory of all
        Path along = Files.createTempDirectory("mail");
        try {
            return send(letter, attachments(letter, work, along), server, work);
        } finally {
            FileSystemUtils.deleteRecursively(along);
        }
    }

    private List<Path> attachments(MailMessage letter, Execution work, Path along) throws IOException {
        var files = new ArrayList<Path>();
        long left = LARGEST_TOGETHER;
        for (String each : letter.attach()) {
            // several may have one name
            Path file = attachment(each, work, Files.createDirectory(along.resolve(String.valueOf(files.size()))));
            files.add(file);
            left -= Files.size(file);
            if (left < 0) {
                throw new WorkFailed("its files are too large to be sent in one mail: at most " + LARGEST_TOGETHER / MB
                        + " MB together");
            }
        }
        return files;
    }

    private static Ending send(MailMessage letter, List<Path> files, Settings.Mail server, Execution work)
            throws MessagingException {
        var sockets = new BoundedSockets();
        work.onStop(sockets::close);
        JavaMailSenderImpl sender = SmtpSender.to(server, sockets);
        MimeMessage message = sender.createMimeMessage();
        var helper = new MimeMessageHelper(message, !files.isEmpty(), StandardCharsets.UTF_8.name());
        helper.setFrom(server.from());
        helper.setTo(mailboxes(letter.to()));
        helper.setCc(mailboxes(letter.copy()));
        helper.setSubject(letter.subject());
        helper.setText(letter.text());
        for (Path file : files) {
            helper.addAttachment(name(file), new FileSystemResource(file));
        }
        work.say("to " + String.join(", ", letter.to()) + ": " + letter.subject());
        files.forEach(file -> work.say("with " + name(file)));
        try {
            sender.send(message);
        } catch (MailException e) {
            throw new WorkFailed("the mail server " + server.host() + " did not take it: " + e.getMessage());
        }
        return work.ending("sent to " + Words.list(letter.to()));
    }

    /** Each is one: a value does not bring others along. */
    private static InternetAddress[] mailboxes(List<String> texts) {
        return texts.stream()
                .map(text -> {
                    try {
                        InternetAddress[] read = InternetAddress.parse(text);
                        if (read.length != 1) {
                            throw new AddressException("not one");
                        }
                        return read[0];
                    } catch (AddressException e) {
                        throw new WorkFailed("'" + text.replaceAll("\\p{Cntrl}+", " ")
                                + "' is not the address of one mailbox, such as planning@example.org");
                    }
                })
                .toArray(InternetAddress[]::new);
    }

    private static Rehearsed attaches(String text, Rehearsing around) {
        if (text.contains(":")) {
            return Rehearsed.untried("attaches", text + ": an output of an earlier step is there when that has run");
        }
        try (Hands hands = around.hands().open()) {
            Hands.Entry file = hands.look(text);
            return file.size() > LARGEST
                    ? Rehearsed.wrong("attaches", text + " is too large to be sent: at most " + LARGEST / MB + " MB")
                    : Rehearsed.fine("attaches", text + " (" + Words.count(file.size(), "byte") + ")");
        } catch (NoSuchFileException e) {
            return Rehearsed.wrong(
                    "attaches", "there is no file " + text + " to send; an output of an earlier step is STEP:NAME");
        } catch (FileSystemException e) {
            return Rehearsed.wrong("attaches", FileTrouble.sentence(e));
        } catch (IOException e) {
            return Rehearsed.wrong("attaches", e.getMessage());
        }
    }

    private static String name(Path file) {
        return file.getFileName().toString();
    }

    /** {@code STEP:OUTPUT} is an output of an earlier step of the same chain; anything else a full path. */
    private Path attachment(String text, Execution work, Path along) throws IOException {
        int colon = text.indexOf(':');
        if (colon < 0) {
            try (InputStream stream = work.hands().open(text)) {
                return attachment(Path.of(text), stream, along);
            } catch (NoSuchFileException e) {
                throw new WorkFailed(
                        "there is no file " + text + " to send; an output of an earlier step is STEP:NAME");
            }
        }
        Path file;
        try {
            file = steps.output(work.run(), text.substring(0, colon).strip(), text.substring(colon + 1));
        } catch (IOException e) {
            throw new WorkFailed(e.getMessage());
        }
        try (InputStream stream = Files.newInputStream(file)) {
            return attachment(file, stream, along);
        }
    }

    private static Path attachment(Path file, InputStream stream, Path along) throws IOException {
        Path copy = along.resolve(file.getFileName());
        try (OutputStream to = Files.newOutputStream(copy)) {
            byte[] piece = new byte[PIECE];
            long size = 0;
            for (int read; (read = stream.read(piece)) >= 0; ) {
                size += read;
                if (size > LARGEST) {
                    throw new WorkFailed(file + " is too large to be sent: at most " + LARGEST / MB + " MB");
                }
                to.write(piece, 0, read);
            }
        }
        return copy;
    }

    @Override
    public List<Rehearsed> rehearse(MailMessage letter, Rehearsing around) {
        var found = new ArrayList<Rehearsed>();
        found.add(Rehearsed.does("to", String.join(", ", letter.to())));
        found.add(Rehearsed.does("subject", letter.subject()));
        found.add(Rehearsed.does("text", letter.text()));
        letter.attach().forEach(each -> found.add(attaches(each, around)));
        try {
            Settings.Mail server = servers.of(around.actor());
            Rehearsed reached = Reach.of(server.host(), server.port());
            found.add(reached);
            if (reached.kind() != Rehearsed.Kind.WRONG) {
                found.add(Rehearsed.untried(
                        "delivery", "whether " + server.host() + " takes the mail is seen when it is sent"));
            }
        } catch (WorkFailed e) {
            found.add(Rehearsed.wrong("mail server", e.getMessage()));
        }
        return found;
    }
}
