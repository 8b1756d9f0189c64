package org.gantrel.service.notification;

import java.time.Clock;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import org.gantrel.core.access.Deed;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.change.Changes;
import org.gantrel.service.http.Newest;
import org.gantrel.service.http.Order;
import org.gantrel.service.http.Paging;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.springframework.data.domain.Limit;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** The messages about runs, newest first: how far each has come, sent again, or given up. */
@RestController
@RequestMapping("/api/v1/deliveries")
@Transactional
class DeliveryApi {

    /** Kinds that may hold what other teams may see as well. */
    private static final Set<String> OF_SEVERAL = Set.of("gathered", "digest");

    private static final List<String> STATES = List.of("waiting", "sent", "failed", "gathered");

    /** A message with what it says. */
    record DeliveryDetail(DeliveryView delivery, String body, String html) {}

    private static final Order.Columns<DeliveryStore.Key> COLUMNS = new Order.Columns<>(DeliveryStore.Key::id)
            .with("address", DeliveryStore.Key::address)
            .with("made", DeliveryStore.Key::madeAt)
            .with("run", DeliveryStore.Key::run)
            .with("state", DeliveryStore.Key::state)
            .with("subject", DeliveryStore.Key::subject)
            .with("tries", DeliveryStore.Key::tries);

    private final DeliveryStore store;
    private final Teams teams;
    private final Changes changes;
    private final Courier courier;
    private final Clock clock;

    DeliveryApi(DeliveryStore store, Teams teams, Changes changes, Courier courier, Clock clock) {
        this.store = store;
        this.teams = teams;
        this.changes = changes;
        this.courier = courier;
        this.clock = clock;
    }

    @GetMapping
    @Transactional(readOnly = true)
    ResponseEntity<List<DeliveryView>> list(
            @AuthenticationPrincipal Caller caller,
            @RequestParam(defaultValue = "50") int limit,
            @RequestParam(defaultValue = "9223372036854775807") long after,
            @RequestParam(defaultValue = "") String state,
            @RequestParam(defaultValue = "") String sort) {
        if (!state.isEmpty() && !STATES.contains(state)) {
            throw new InvalidException(
                    "state", "'" + state + "': " + String.join(", ", STATES) + Nearest.hint(state, STATES));
        }
        Map<Long, String> names = names(caller);
        String word = state.toUpperCase(Locale.ROOT);
        int most = Paging.limit(limit) + 1;
        List<DeliveryRecord> found = COLUMNS.read(sort)
                .map(order -> {
                    List<Long> ids = order.page(store.keys(names.keySet(), word, Limit.of(Order.MOST)), after, most);
                    return Order.inOrder(ids, store.findAllById(ids), DeliveryRecord::id);
                })
                .orElseGet(() -> Newest.of(
                        names.keySet(),
                        DeliveryRecord::id,
                        most,
                        team -> store.before(after, team, word, Limit.of(most))));
        return Paging.page(found, limit, DeliveryRecord::id, delivery -> delivery.view(names.get(delivery.teamId())));
    }

    private Map<Long, String> names(Caller caller) {
        return caller.among(teams.all(), Deed.SEE_DELIVERIES).stream().collect(Collectors.toMap(Team::id, Team::name));
    }

    /** A message and what it says. */
    @GetMapping("/{id}")
    @Transactional(readOnly = true)
    DeliveryDetail show(@AuthenticationPrincipal Caller caller, @PathVariable long id) {
        DeliveryRecord delivery = visible(caller, id);
        DeliveryView view = delivery.view(names(caller).get(delivery.teamId()));
        return OF_SEVERAL.contains(delivery.kind()) && !caller.administrator()
                ? new DeliveryDetail(view, "It tells of what several teams do; whoever it went to has it.", "")
                : new DeliveryDetail(view, delivery.body(), delivery.html());
    }

    /** Sends a message again, or one that waits at once. */
    @PostMapping("/{id}/again")
    DeliveryView again(@AuthenticationPrincipal Caller caller, @PathVariable long id) {
        DeliveryRecord delivery = worked(caller, id);
        delivery.again(clock.instant());
        changed(caller, delivery, "sent again");
        courier.ringAfterCommit();
        return delivery.view(names(caller).get(delivery.teamId()));
    }

    /** Gives a message up that waits. */
    @PostMapping("/{id}/give-up")
    DeliveryView giveUp(@AuthenticationPrincipal Caller caller, @PathVariable long id) {
        DeliveryRecord delivery = worked(caller, id);
        if (!delivery.isWaiting()) {
            throw Refusal.conflict("message " + id + " does not wait any more");
        }
        delivery.giveUp(caller.name());
        changed(caller, delivery, "given up");
        return delivery.view(names(caller).get(delivery.teamId()));
    }

    private DeliveryRecord worked(Caller caller, long id) {
        DeliveryRecord delivery = visible(caller, id);
        caller.require(Deed.SEE_DELIVERIES, names(caller).get(delivery.teamId()));
        return delivery;
    }

    private DeliveryRecord visible(Caller caller, long id) {
        return store.findById(id)
                .filter(delivery -> names(caller).containsKey(delivery.teamId()))
                .filter(delivery -> !delivery.channel().equals(Message.CONSOLE))
                .orElseThrow(() -> Refusal.notFound("there is no message " + id));
    }

    private void changed(Caller caller, DeliveryRecord delivery, String what) {
        changes.record(
                caller,
                what,
                "message",
                String.valueOf(delivery.id()),
                names(caller).get(delivery.teamId()),
                delivery.address() + ": " + delivery.subject());
    }
}
