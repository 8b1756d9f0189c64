package org.gantrel.core.action;

import java.util.List;
import org.gantrel.core.expression.Bindings;

/**
 * A mail.
 *
 * @param attach files of the run's own folder or of an earlier step's outputs, by path
 */
public record MailMessage(List<String> to, List<String> copy, String subject, String text, List<String> attach)
        implements Action {

    public MailMessage {
        to = List.copyOf(to);
        copy = List.copyOf(copy);
        attach = List.copyOf(attach);
    }

    @Override
    public String kind() {
        return "mail";
    }

    @Override
    public MailMessage fill(Bindings known) {
        return new MailMessage(
                known.fill(to), known.fill(copy), known.fill(subject), known.fill(text), known.fill(attach));
    }
}
