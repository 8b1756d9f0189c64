package org.gantrel.service.execution;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import org.gantrel.core.action.Command;
import org.gantrel.core.job.Outputs;
import org.gantrel.service.durable.RoomToKeep;
import org.gantrel.service.places.FoldersToRead;
import org.gantrel.service.places.Hands;
import org.gantrel.service.places.LocalHands;
import org.gantrel.service.places.Reachable;
import org.gantrel.service.run.RunValues;
import org.springframework.stereotype.Component;

/** Looks through what commands left in the folders that they worked in. */
@Component
class Aftermaths {

    private final RunValues values;
    private final AccountHands accountHands;
    private final RoomToKeep room;

    Aftermaths(RunValues values, AccountHands accountHands, RoomToKeep room) {
        this.values = values;
        this.accountHands = accountHands;
        this.room = room;
    }

    /** What one left on another host. @param cover hides what must not be readable */
    TaskResult there(Attempt attempt, FoldersToRead there, String worked, UnaryOperator<String> cover)
            throws IOException {
        return new Aftermath(attempt.task().outcome(), outputs(attempt), worked, attempt.folder(), there, room, cover)
                .lookClosely();
    }

    /** What one left on this host. @param cover hides what must not be readable */
    TaskResult here(Attempt attempt, UnaryOperator<String> cover) throws IOException {
        var known = values.known(attempt.run());
        Optional<Path> source = SourceFolder.of(attempt.folder()).flatMap(SourceFolder.Given::folder);
        Optional<String> folder = attempt.task()
                .command()
                .map(command -> command.fill(known))
                .map(command -> source.map(at -> command.in(at.toString())).orElse(command))
                .map(Command::folder)
                .filter(each -> !each.isEmpty());
        String own = attempt.folder().work().toAbsolutePath().toString();
        boolean isOwn = folder.isEmpty()
                || source.filter(folder.map(Path::of).get()::startsWith).isPresent();
        // what it left in the folder of its run is its own; elsewhere it is read with its rights
        try (Hands hands = isOwn || !attempt.leavesFiles()
                ? new LocalHands(new Reachable(List.of(folder.orElse(own)), List.of()))
                : accountHands.of(attempt.task().team(), attempt.task())) {
            return new Aftermath(
                            attempt.task().outcome(),
                            outputs(attempt),
                            folder.orElse(own),
                            attempt.folder(),
                            hands,
                            room,
                            cover)
                    .look();
        }
    }

    private List<Outputs.Output> outputs(Attempt attempt) {
        var known = values.known(attempt.run());
        return attempt.task().outputs().files().stream()
                .map(output -> output.fill(known))
                .toList();
    }
}
