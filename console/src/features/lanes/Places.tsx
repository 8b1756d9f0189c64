import Box from "@mui/material/Box";

const MOST_DRAWN = 12;

/** How many places of a lane are taken: a box each, as far as there is room for them. */
export function Places({ taken, width }: { taken: number; width: number }) {
  const words = `${taken} of ${width} taken`;
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 0.75, height: "100%" }}>
      {width <= MOST_DRAWN && (
        <Box aria-hidden sx={{ display: "flex", gap: 0.4 }}>
          {Array.from({ length: width }, (_, place) => (
            <Box
              // biome-ignore lint/suspicious/noArrayIndexKey: places have no other name
              key={place}
              sx={{
                width: 11,
                height: 11,
                border: 1,
                borderColor: "text.secondary",
                bgcolor: place < taken ? "primary.main" : "transparent",
              }}
            />
          ))}
        </Box>
      )}
      <span>{words}</span>
    </Box>
  );
}
