package org.gantrel.core.access;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** What a person is in a team, from the least to the most; or, above all teams, an administrator. */
public enum Role {
    VIEWER,
    OPERATOR,
    EDITOR,
    MANAGER,
    ADMINISTRATOR;

    /** The roles that a team gives; administrators are made for the whole service. */
    public static final List<Role> IN_TEAM = List.of(VIEWER, OPERATOR, EDITOR, MANAGER);

    /** The word for it in the command line and in JSON. */
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    public static Optional<Role> of(String word) {
        return Arrays.stream(values()).filter(role -> role.word().equals(word)).findFirst();
    }
}
