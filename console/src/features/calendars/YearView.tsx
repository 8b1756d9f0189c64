import Box from "@mui/material/Box";
import Tooltip from "@mui/material/Tooltip";
import type { KeyboardEvent } from "react";
import type { CalendarDay } from "../../api/types";
import { MONO } from "../../theme";

const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
const WEEKDAYS = ["Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"];

/** How many days an arrow moves. */
const STEPS: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7 };

function moveFocus(event: KeyboardEvent<HTMLElement>) {
  const step = STEPS[event.key];
  const from = (event.target as HTMLElement).dataset.date;
  if (!step || !from) return;
  const to = new Date(new Date(`${from}T00:00:00Z`).getTime() + step * 86_400_000).toISOString().slice(0, 10);
  const day = event.currentTarget.querySelector<HTMLElement>(`[data-date="${to}"]`);
  if (!day) return;
  event.preventDefault();
  day.focus();
}

type Props = { days: CalendarDay[]; today: string; onToggle?: (day: CalendarDay) => void };

/** A year at a glance: twelve months, closed days hatched, labelled days with a corner, days with starts with a dot. */
export function YearView({ days, today, onToggle }: Props) {
  return (
    <Box
      onKeyDown={onToggle && moveFocus}
      sx={{
        display: "grid",
        gap: 2,
        gridTemplateColumns: "repeat(auto-fill, minmax(196px, 1fr))",
      }}
    >
      {MONTHS.map((name, month) => (
        <Month
          key={name}
          name={name}
          days={days.filter((day) => Number(day.date.slice(5, 7)) === month + 1)}
          today={today}
          onToggle={onToggle}
        />
      ))}
    </Box>
  );
}

function Month({ name, days, today, onToggle }: Props & { name: string }) {
  if (days.length === 0) return null;
  const before = (new Date(`${days[0].date}T00:00:00Z`).getUTCDay() + 6) % 7;
  return (
    <Box component="section" aria-label={name}>
      <Box sx={{ fontWeight: 650, mb: 0.5 }}>{name}</Box>
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(7, 1fr)", gap: "2px", fontSize: "0.72rem" }}>
        {WEEKDAYS.map((weekday) => (
          <Box key={weekday} sx={{ textAlign: "center", color: "text.secondary" }}>
            {weekday}
          </Box>
        ))}
        <Box sx={{ gridColumn: `span ${before}`, display: before === 0 ? "none" : "block" }} />
        {days.map((day) => (
          <Day
            key={day.date}
            day={day}
            isToday={day.date === today}
            isFirst={day.date.endsWith("-01-01")}
            onToggle={onToggle}
          />
        ))}
      </Box>
    </Box>
  );
}

type DayProps = { day: CalendarDay; isToday: boolean; isFirst: boolean; onToggle?: (day: CalendarDay) => void };

function Day({ day, isToday, isFirst, onToggle }: DayProps) {
  const starts = day.starts ?? [];
  const words = [
    `${day.date}, ${day.open ? "open" : "closed"}`,
    day.label,
    ...starts.slice(0, 6),
    starts.length > 6 && `and ${starts.length - 6} more`,
  ].filter(Boolean);
  return (
    <Tooltip title={<Box sx={{ whiteSpace: "pre-line" }}>{words.join("\n")}</Box>}>
      <Box
        component={onToggle ? "button" : "div"}
        type={onToggle ? "button" : undefined}
        // one stop of the Tab key for all days; arrows move between them
        tabIndex={onToggle ? (isToday || isFirst ? 0 : -1) : undefined}
        data-date={day.date}
        onClick={onToggle && (() => onToggle(day))}
        aria-label={`${Number(day.date.slice(8))}, ${words.slice(0, 2).join(", ")}`}
        sx={({ palette }) => ({
          position: "relative",
          font: "inherit",
          fontFamily: MONO,
          textAlign: "center",
          height: 24,
          p: 0,
          lineHeight: "22px",
          borderRadius: "3px",
          border: `1px solid ${isToday ? palette.primary.main : palette.divider}`,
          color: day.open ? "text.primary" : "text.secondary",
          background: day.open
            ? palette.background.paper
            : `repeating-linear-gradient(135deg, ${palette.divider} 0 2px, transparent 2px 5px)`,
          cursor: onToggle ? "pointer" : "default",
          fontWeight: isToday ? 700 : 400,
          ...(day.label && {
            "&::before": {
              content: '""',
              position: "absolute",
              top: 0,
              right: 0,
              border: "4px solid transparent",
              borderTopColor: palette.primary.main,
              borderRightColor: palette.primary.main,
            },
          }),
          ...(starts.length > 0 && {
            "&::after": {
              content: '""',
              position: "absolute",
              bottom: 2,
              left: "50%",
              width: 4,
              height: 4,
              ml: "-2px",
              borderRadius: "50%",
              bgcolor: palette.outcome.going,
            },
          }),
        })}
      >
        {Number(day.date.slice(8))}
      </Box>
    </Tooltip>
  );
}
