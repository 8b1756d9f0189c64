import { useTheme } from "@mui/material/styles";

/** A gantry with its load. */
export function Logo({ size = 26 }: { size?: number }) {
  const { palette } = useTheme();
  return (
    <svg width={size} height={size} viewBox="0 0 32 32" aria-hidden="true">
      <g fill="none" stroke={palette.primary.main} strokeWidth="2.6">
        <path d="M5 27V5h22v22M2 27h28M12 5v10h8V5" />
      </g>
      <path fill={palette.outcome.bad} d="M13 18h6v6h-6z" />
    </svg>
  );
}
