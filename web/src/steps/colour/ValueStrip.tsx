import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useMemo } from "react";
import type { Part, Sheet } from "../../api/client";
import { Figure } from "../../theme/Figure";
import { lightnessOf } from "../../colour/convert";

const SKIN_FROM = 80; // light skin sits in the brightest 20 % of values: common practice

/** All bases, and below them their shades, on one scale of L*. */
export function ValueStrip({ parts, sheet }: { parts: Part[]; sheet: Sheet | undefined }) {
  const ticks = useMemo(() => parts.flatMap((part) => {
    const row = sheet?.rows.find((r) => r.part === part.id);
    return (row?.cells ?? []).filter((c) => c.name === "base" || c.name === "shade").map((c) => ({
      key: part.id + c.name, shade: c.name === "shade", colour: c.colour, value: lightnessOf(c.colour), name: part.name,
    }));
  }), [parts, sheet]);
  if (parts.length === 0) return null;
  const bases = ticks.filter((t) => !t.shade).map((t) => t.value);
  const skin = parts.some((p) => p.material === "skin");
  return (
    <Box component="section" aria-label="Values" sx={{ mt: 1.5 }}>
      <Typography variant="body2" sx={{ display: "flex", justifyContent: "space-between" }}>
        <span>Values, dark to light: bases above, shades below</span>
        <Figure size={12}>L* {Math.round(Math.min(...bases))} to {Math.round(Math.max(...bases))}</Figure>
      </Typography>
      <Box role="img"
        aria-label={`Bases from L* ${Math.round(Math.min(...bases))} to ${Math.round(Math.max(...bases))}`}
        sx={{ position: "relative", height: 66, mt: 0.5 }}>
        <Box sx={{ position: "absolute", left: 0, right: 0, top: 28, height: 10, borderRadius: 1,
          background: GREYS }} />
        {skin && (
          <Box title="Light skin: the brightest 20 % (common practice)"
            sx={{ position: "absolute", left: `${SKIN_FROM}%`, right: 0, top: 0, bottom: 0, borderLeft: "2px dashed",
              borderColor: "primary.main", pl: 0.5, pt: "51px", fontSize: 11, color: "text.secondary",
                lineHeight: 1.1 }}>
            light skin
          </Box>
        )}
        {ticks.map((t) => (
          <Box key={t.key} title={`${t.name}, ${t.shade ? "shade" : "base"}: L* ${t.value.toFixed(0)}`}
            sx={{ position: "absolute", left: `calc(${t.value}% - 4px)`, top: t.shade ? 38 : 4, width: 8, height: 24,
              bgcolor: t.colour, border: "1px solid", borderColor: "text.primary", borderRadius: 0.5 }} />
        ))}
      </Box>
    </Box>
  );
}

// Equal steps of L*, as greys.
const GREYS = `linear-gradient(90deg, ${Array.from({ length: 11 }, (_, i) => `lab(${10 * i}% 0 0)`).join(", ")})`;
