import { curve, type Laid, NODE } from "./layout";

const INK = "#1b2530";
const SOFT = "#5c6673";
const FILLS: Record<string, string> = {
  succeeded: "#1f8a7d",
  warned: "#e0a011",
  failed: "#c5432c",
  "timed-out": "#c5432c",
  running: "#3565c4",
  waiting: "#3565c4",
};

const escaped = (text: string) =>
  text.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;").replaceAll('"', "&quot;");

const cut = (text: string, most: number) => (text.length > most ? `${text.slice(0, most - 1)}…` : text);

/** The picture of a chain by itself, for a document or a mail. @param critical the steps whose way is drawn heavier */
export function chainSvg({ nodes, arrows, width, height }: Laid, critical: string[]): string {
  const at = new Map(nodes.map((node) => [node.step.step, node]));
  const lines = arrows.map((arrow) => {
    const from = at.get(arrow.from);
    const to = at.get(arrow.to);
    if (!from || !to) return "";
    const middle = arrow.points[Math.floor(arrow.points.length / 2)] ?? { x: to.x, y: to.y };
    const heavy = critical.includes(arrow.from) && critical.includes(arrow.to);
    const dash = arrow.on === "success" ? "" : ' stroke-dasharray="5 4"';
    const path = `<path d="${curve(arrow.points)}" fill="none" stroke="${SOFT}" stroke-width="${heavy ? 2.6 : 1.2}"${dash}/>`;
    const label = arrow.label
      ? `<text x="${middle.x}" y="${middle.y - 4}" font-size="10" text-anchor="middle" fill="${SOFT}">${escaped(cut(arrow.label, 40))}</text>`
      : "";
    return path + label;
  });
  const boxes = nodes.map(({ step, x, y }) => {
    const fill = FILLS[step.state ?? ""] ?? "#8b94a0";
    return [
      `<g transform="translate(${x} ${y})">`,
      `<rect width="${NODE.width}" height="${NODE.height}" rx="4" fill="#fffdf9" stroke="${INK}" stroke-width="1"/>`,
      `<rect width="5" height="${NODE.height}" fill="${fill}"/>`,
      `<text x="14" y="22" font-size="13" font-weight="600" fill="${INK}">${escaped(cut(step.step, 24))}</text>`,
      `<text x="14" y="39" font-size="10.5" fill="${SOFT}">${escaped(cut(step.does, 34))}</text>`,
      `<text x="14" y="55" font-size="10.5" fill="${SOFT}">${escaped(step.state ?? "")}</text>`,
      "</g>",
    ].join("");
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}" font-family="sans-serif"><rect width="100%" height="100%" fill="#f6f3ed"/>${lines.join("")}${boxes.join("")}</svg>`;
}

/** Hands a picture to the browser to keep. */
export function keepSvg(svg: string, name: string) {
  const url = URL.createObjectURL(new Blob([svg], { type: "image/svg+xml" }));
  const link = document.createElement("a");
  link.href = url;
  link.download = `${name}.svg`;
  link.click();
  URL.revokeObjectURL(url);
}
