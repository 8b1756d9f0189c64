import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
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
  onMark: () => void;
};

const COLOURS: Record<string, string> = {
  black: "text.secondary",
  red: "error.main",
  green: "success.main",
  yellow: "warning.main",
  blue: "outcome.going",
  magenta: "primary.main",
  cyan: "primary.main",
  white: "text.primary",
};

/** One line of a log with its number, which is a link to it. */
export const LogLine = memo(function LogLine(props: Props) {
  const { number, text, top, wrap, measure, marked, sought, onMark } = props;
  const error = text !== undefined && ERROR.test(plain(text));
  const found = sought !== "" && text !== undefined && plain(text).toLowerCase().includes(sought.toLowerCase());
  return (
    <Box
      ref={measure}
      data-index={number}
      data-error={error ? "" : undefined}
      sx={{
        display: "flex",
        px: 1,
        minWidth: "100%",
        bgcolor: marked ? "paper2" : undefined,
        "&:hover": { bgcolor: "paper2" },
      }}
      style={{ position: "absolute", top: 0, left: 0, right: wrap ? 0 : undefined, transform: `translateY(${top}px)` }}
    >
      <Link
        href={`#line-${number + 1}`}
        onClick={onMark}
        tabIndex={-1}
        underline="hover"
        aria-label={`Line ${number + 1}`}
        sx={{ width: 58, flexShrink: 0, pr: 1.5, textAlign: "right", color: "text.secondary", userSelect: "none" }}
      >
        {number + 1}
      </Link>
      <Box
        component="span"
        sx={{
          whiteSpace: wrap ? "pre-wrap" : "pre",
          overflowWrap: wrap ? "anywhere" : undefined,
          color: error ? "error.main" : "text.primary",
          fontWeight: error ? 600 : 400,
          outline: found ? 1 : 0,
          outlineColor: "outcome.amber",
        }}
      >
        {text === undefined ? "…" : <Coloured text={text} />}
      </Box>
    </Box>
  );
});

function Coloured({ text }: { text: string }) {
  const parts = stretches(text);
  if (parts.length === 1 && !parts[0].colour && !parts[0].bold) return parts[0].text || " ";
  return parts.map((part, index) => (
    <Box
      component="span"
      // biome-ignore lint/suspicious/noArrayIndexKey: the stretches of a line never change
      key={index}
      sx={{ color: part.colour && COLOURS[part.colour], fontWeight: part.bold ? 700 : undefined }}
    >
      {part.text}
    </Box>
  ));
}
