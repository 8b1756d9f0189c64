package org.gantrel.service.execution;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.action.Checks;
import org.gantrel.core.action.Command;
import org.gantrel.core.action.FileWork;
import org.gantrel.core.action.GitSource;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.core.expression.Template;
import org.gantrel.core.job.Job;
import org.gantrel.core.run.ActsAs;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.job.JobAdvice;
import org.gantrel.service.run.Run;
import org.gantrel.service.settings.Settings;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/** Says whom a task acts as, whether it may, and opens what it needs for that. */
@Component
public class Actors implements JobAdvice {

    private static final Logger LOG = LoggerFactory.getLogger(Actors.class);

    /** Which kinds of credential a kind of work can act as. */
    private static final Map<String, List<CredentialKind>> FITTING = Map.of(
            "command", List.of(CredentialKind.ACCOUNT, CredentialKind.SSH),
            "request", List.of(CredentialKind.HTTP_BASIC, CredentialKind.HTTP_BEARER, CredentialKind.HTTP_HEADER),
            "sql", List.of(CredentialKind.DATABASE),
            "checks",
                    List.of(
                            CredentialKind.DATABASE,
                            CredentialKind.HTTP_BASIC,
                            CredentialKind.HTTP_BEARER,
                            CredentialKind.HTTP_HEADER),
            "files", List.of(CredentialKind.ACCOUNT),
            "mail", List.of(CredentialKind.MAIL),
            "outside", List.of());

    private final Credentials credentials;
    private final Account own = Account.own();
    private final Optional<Account> usual;

    Actors(Credentials credentials, Settings settings) {
        this.credentials = credentials;
        this.usual = settings.runAs().flatMap(Account::named);
        if (usual.isEmpty()) {
            LOG.warn(
                    "the service runs as {}, and so do jobs that name no account: whoever edits jobs can do what the service can; --run-as lets them run as another account",
                    own.name());
        }
    }

    /** Whom a run of a job acts as, as it is shown; nobody for a chain, whose steps act. */
    public String identity(Job job) {
        return job instanceof Job.Task task ? identity(task) : "";
    }

    private String identity(Job.Task task) {
        return shown(task.identity().credential())
                .map(Credential::identity)
                .orElseGet(() -> actsByAccount(task) ? usual(task).orElse(own).name() : ActsAs.IN_SERVICE);
    }

    /** Whether an account of this host counts for what a task does; requests, statements and mails need none. */
    private static boolean actsByAccount(Job.Task task) {
        return task.action() instanceof Command
                || task.action() instanceof FileWork
                || task.action() instanceof Checks checks
                        && checks.all().stream().anyMatch(check -> check.subject() instanceof Checks.FileState);
    }

    /** Most tasks act as nobody, and each start and end asks several times: that takes no transaction. */
    private Optional<Credential> shown(String name) {
        return name.isEmpty() ? Optional.empty() : credentials.shown(name);
    }

    /** What keeps a task from acting as it is meant to; all of it. */
    public List<String> complaints(Job.Task task) {
        var complaints = new ArrayList<String>();
        task.credentials()
                .forEach(name ->
                        credentials.complaint(name, task.team(), task.name()).ifPresent(complaints::add));
        String name = task.identity().credential();
        Optional<Credential> shown = complaints.isEmpty() ? shown(name) : Optional.empty();
        List<CredentialKind> fitting = FITTING.get(task.action().kind());
        shown.filter(credential -> !fitting.contains(credential.kind()))
                .ifPresent(credential -> complaints.add("a " + task.action().kind() + " cannot act as '" + name
                        + "', which is of the kind " + credential.kind().word()));
        shown.filter(credential -> credential.kind() == CredentialKind.ACCOUNT)
                .ifPresent(credential -> complaints.addAll(accountComplaints(task, credential)));
        if (complaints.isEmpty() && task.action() instanceof Checks checks) {
            complaints.addAll(noHosts(checks));
        }
        if (complaints.isEmpty()) {
            source(task).flatMap(this::doesNotFit).ifPresent(complaints::add);
        }
        notRaised(task).ifPresent(complaints::add);
        return complaints;
    }

    private static Optional<GitSource> source(Job.Task task) {
        return task.action() instanceof Command command
                ? command.from()
                : task.action() instanceof Checks checks ? checks.from() : Optional.empty();
    }

    /** A credential that the repository cannot be asked as, by the way that it is reached. */
    private Optional<String> doesNotFit(GitSource source) {
        if (Template.isFilled(source.address())) {
            return Optional.empty();
        }
        boolean ssh = source.way() == GitSource.Way.SSH;
        return shown(source.credential())
                .filter(credential -> (credential.kind() == CredentialKind.SSH) != ssh
                        || (!ssh && !FITTING.get("request").contains(credential.kind())))
                .map(credential -> "no repository at " + source.address() + " can be asked as '" + credential.name()
                        + "', which is of the kind " + credential.kind().word());
    }

    /** The credentials that checks are to be asked from, and that are not those of hosts. */
    private List<String> noHosts(Checks checks) {
        return checks.all().stream()
                .flatMap(check -> check.from().stream())
                .distinct()
                .flatMap(name -> shown(name).stream())
                .filter(credential -> credential.kind() != CredentialKind.SSH)
                .map(credential -> "no check can be asked from '" + credential.name() + "', which is of the kind "
                        + credential.kind().word() + "; it must be ssh")
                .toList();
    }

    /** What keeps a task from being an account of this host; nothing where it names none. */
    Optional<String> accountComplaint(Job.Task task) {
        String name = task.identity().credential();
        return shown(name)
                .filter(credential -> credential.kind() == CredentialKind.ACCOUNT)
                .flatMap(credential -> credentials
                        .complaint(name, task.team(), task.name())
                        .or(() -> accountComplaints(task, credential).stream().findFirst()));
    }

    private static List<String> accountComplaints(Job.Task task, Credential credential) {
        String name = credential.fact("account");
        Optional<Account> account = Account.named(name);
        if (account.isEmpty()) {
            return List.of("this host has no account '" + name + "'");
        }
        if (account.get().isPrivileged() && !task.identity().raised()) {
            return List.of("the account " + name + " may do everything, and the job does not say 'raised: yes'");
        }
        return !account.get().isPrivileged() && task.identity().raised()
                ? List.of("the job says 'raised: yes', and the account " + name + " is an ordinary one")
                : List.of();
    }

    /** A job that is to be raised by itself acts as the service's own account. */
    private Optional<String> notRaised(Job.Task task) {
        boolean own = task.identity().raised() && task.identity().credential().isEmpty();
        return own && !this.own.isPrivileged()
                ? Optional.of("the job says 'raised: yes', and the service runs as " + this.own.name()
                        + ", an ordinary account")
                : Optional.empty();
    }

    @Override
    public List<String> warnings(Job job) {
        return job instanceof Job.Task task
                ? task.credentials().stream()
                        .flatMap(name -> credentials.warning(name).stream())
                        .toList()
                : List.of();
    }

    /**
     * The account that counts on this host for a task: its command runs as it, and gates, rosters and files are looked at as it,
     * also where the command runs on another host. Nothing for the service's own.
     */
    Optional<Account> account(Job.Task task) {
        return isElsewhere(task)
                ? usual
                : shown(task.identity().credential())
                        .filter(credential -> credential.kind() == CredentialKind.ACCOUNT)
                        .flatMap(credential -> Account.named(credential.fact("account")))
                        .or(() -> usual(task));
    }

    /** The account of tasks whose credential names none; the service's own is meant only where that is said. */
    Optional<Account> usual(Job.Task task) {
        return task.identity().raised() ? Optional.empty() : usual;
    }

    /** Whether a command runs on another host. */
    boolean isElsewhere(Job.Task task) {
        return shown(task.identity().credential())
                .filter(credential -> credential.kind() == CredentialKind.SSH)
                .isPresent();
    }

    /** The account for what is done where no task is known. */
    Optional<Account> usual() {
        return usual;
    }

    Account own() {
        return own;
    }

    /** The credential that a run acts as, opened; its use is written down. */
    public Optional<Credential> open(Job.Task task, Run run) {
        String name = task.identity().credential();
        return name.isEmpty() ? Optional.empty() : Optional.of(open(name, task, run));
    }

    /** The credential that a task would act as, opened for a rehearsal. */
    public Optional<Credential> openToRehearse(Job.Task task) {
        String name = task.identity().credential();
        return name.isEmpty()
                ? Optional.empty()
                : Optional.of(credentials.useToRehearse(name, task.team(), task.name()));
    }

    /** Another credential of a task, opened for a rehearsal. */
    public Credential openToRehearse(String name, Job.Task task) {
        return credentials.useToRehearse(name, task.team(), task.name());
    }

    /** A credential that a task uses, opened; its use is written down. */
    public Credential open(String name, Job.Task task, Run run) {
        return credentials.use(name, task.team(), task.name(), "run " + run.number());
    }

    /** The same for a run that has used it before. */
    public Credential openAgain(String name, Job.Task task) {
        return credentials.useAgain(name, task.team(), task.name());
    }

    /** The secrets that a command finds in its environment. */
    Map<String, String> secrets(Command command, Job.Task task, Run run) {
        var secrets = new LinkedHashMap<String, String>();
        command.secrets().forEach((variable, name) -> {
            Credential credential = open(name, task, run);
            secrets.put(
                    variable, credential.secrets().values().stream().findFirst().orElse(""));
        });
        return secrets;
    }
}
