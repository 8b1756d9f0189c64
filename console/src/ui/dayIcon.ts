/** How the day goes, as the page's icon shows it among other tabs. */
export type DayState = "fine" | "attention" | "unknown";

const COLOURS: Record<DayState, string> = { fine: "#1f8a7d", attention: "#c5432c", unknown: "#8b94a0" };

/** The gantry's load, told apart by form too: round where all is fine, wide where somebody is needed, hollow where it is not known. */
const MARKS: Record<DayState, string> = {
  fine: '<circle cx="16" cy="20" r="4.4" fill="COLOUR"/>',
  attention: '<path d="M9 15.5h14v9H9z" fill="COLOUR"/>',
  unknown: '<circle cx="16" cy="20" r="3.6" fill="none" stroke="COLOUR" stroke-width="2.4"/>',
};

export function dayIcon(state: DayState): string {
  const mark = MARKS[state].replace("COLOUR", COLOURS[state]);
  const gantry = '<path d="M5 27V5h22v22M2 27h28M12 5v8h8V5" fill="none" stroke="#11596b" stroke-width="2.6"/>';
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 32 32">${gantry}${mark}</svg>`;
  return `data:image/svg+xml,${encodeURIComponent(svg)}`;
}
