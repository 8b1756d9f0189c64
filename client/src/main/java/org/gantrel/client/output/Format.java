package org.gantrel.client.output;

/** How a list is printed. */
public enum Format {
    table,
    json,
    csv
}
