import { styled } from "@mui/material/styles";
import { memo } from "react";
import { ERROR, plain, stretches } from "./logView";

type Props = {
  number: number;
  /** Undefined while it is asked for. */
  text: string | undefined;
  top: number;
  wrap: boolean;
  measure?: (element: HTMLElement | null) => void;
  marked: boolean;
  sought: string;
  onMark: (line: number) => void;
};

/** Lines are many and come at every turn of the wheel: their styles are made once, and told apart by attributes. */
const Row = styled("div")(({ theme: { palette, spacing } }) => ({
  position: "absolute",
  top: 0,
  left: 0,
  display: "flex",
  minWidth: "100%",
  padding: spacing(0, 1),
  color: palette.text.primary,
  "&:hover, &[data-marked]": { backgroundColor: palette.paper2 },
  "&[data-wrap]": { right: 0 },
  "& > a": {
    width: 58,
    flexShrink: 0,
    paddingRight: spacing(1.5),
    textAlign: "right",
    color: palette.text.secondary,
    userSelect: "none",
    textDecoration: "none",
    "&:hover": { textDecoration: "underline" },
  },
  "& > span": { whiteSpace: "pre" },
  "&[data-wrap] > span": { whiteSpace: "pre-wrap", overflowWrap: "anywhere" },
  "&[data-error] > span": { color: palette.error.main, fontWeight: 600 },
  "&[data-found] > span": { outline: `1px solid ${palette.outcome.amber}` },
  "& [data-bold]": { fontWeight: 700 },
  "& [data-colour=black]": { color: palette.text.secondary },
  "& [data-colour=red]": { color: palette.error.main },
  "& [data-colour=green]": { color: palette.success.main },
  "& [data-colour=yellow]": { color: palette.warning.main },
  "& [data-colour=blue]": { color: palette.outcome.going },
  "& [data-colour=magenta], & [data-colour=cyan]": { color: palette.primary.main },
}));

/** One line of a log with its number, which is a link to it. */
export const LogLine = memo(function LogLine(props: Props) {
  const { number, text, top, wrap, measure, marked, sought, onMark } = props;
  const bare = text === undefined ? "" : plain(text);
  const flag = (on: boolean) => (on ? "" : undefined);
  return (
    <Row
      ref={measure}
      data-index={number}
      data-wrap={flag(wrap)}
      data-marked={flag(marked)}
      data-error={flag(ERROR.test(bare))}
      data-found={flag(sought !== "" && bare.toLowerCase().includes(sought.toLowerCase()))}
      style={{ transform: `translateY(${top}px)` }}
    >
      <a href={`#line-${number + 1}`} onClick={() => onMark(number)} tabIndex={-1} aria-label={`Line ${number + 1}`}>
        {number + 1}
      </a>
      <span>{text === undefined ? "…" : <Coloured text={text} />}</span>
    </Row>
  );
});

function Coloured({ text }: { text: string }) {
  const parts = stretches(text);
  if (parts.length === 1 && !parts[0].colour && !parts[0].bold) return parts[0].text || " ";
  return parts.map((part, index) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: the stretches of a line never change
    <span key={index} data-colour={part.colour} data-bold={part.bold || undefined}>
      {part.text}
    </span>
  ));
}
