/**
 * A table as it comes from a spreadsheet, with tabs between the cells, as CSV (RFC 4180). Text that has no tabs is
 * taken for CSV already.
 */
export function pastedAsCsv(text: string): string {
  if (!text.includes("\t")) return text;
  return text
    .replace(/\r\n?/g, "\n")
    .split("\n")
    .filter((line) => line.trim() !== "")
    .map((line) => line.split("\t").map(quoted).join(","))
    .join("\r\n");
}

function quoted(cell: string): string {
  const plain = cell.trim();
  return /[",]/.test(plain) ? `"${plain.replace(/"/g, '""')}"` : plain;
}
