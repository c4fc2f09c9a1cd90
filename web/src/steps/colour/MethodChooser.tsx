import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import type { Edit, MethodKey, Passes, Piece, Schemas } from "../../api/client";
import { useMeta } from "../../api/pieces";
import type { Live } from "./live";

interface Props {
  piece: Piece;
  live: Live;
  /** The method that is being looked at, before and after side by side; null while none is. */
  trying: string | null;
  onTry: (method: string | null) => void;
}

const withMethod = (passes: Passes, method: string): Edit => ({ kind: "set_passes", passes: { ...passes, method: method as MethodKey } });

/** The school by which pass colours are derived; another one is looked at before it is used. */
export function MethodChooser({ piece, live, trying, onTry }: Props) {
  const methods = useMeta().data?.methods ?? [];
  const { passes } = piece.recipe;
  const current = methods.find((m) => m.key === passes.method);
  const look = (key: string) => {
    onTry(key);
    if (key === passes.method) live.drop();
    else live.show(withMethod(passes, key));
  };
  const stay = () => { onTry(null); live.drop(); };
  if (trying === null) {
    return (
      <Box sx={{ display: "flex", alignItems: "center", flexWrap: "wrap", columnGap: 1, mb: 1 }}>
        <Typography variant="h3" component="div" sx={{ flex: 1 }}>{current?.label}</Typography>
        <Choices passes={passes} method={current} live={live} />
        <Button variant="outlined" onClick={() => onTry(passes.method ?? "")}>Other methods</Button>
      </Box>
    );
  }
  return (
    <Box role="radiogroup" aria-label="Method" sx={{ mb: 1.5 }}>
      {methods.map((m) => (
        <ButtonBase key={m.key} role="radio" aria-checked={m.key === trying} onClick={() => look(m.key)}
          sx={{ display: "block", width: "100%", textAlign: "left", p: 1, mb: 0.5, borderRadius: 1, border: "1px solid", borderColor: "divider", outline: m.key === trying ? "2px dashed" : "none", outlineColor: "primary.main", outlineOffset: -2 }}>
          <Typography variant="h3" component="div">{m.label}{m.key === passes.method && <Box component="span" sx={{ fontWeight: 400, color: "text.secondary" }}>, as it is</Box>}</Typography>
          {m.key === trying && <Typography variant="body2">{m.when}</Typography>}
        </ButtonBase>
      ))}
      <Typography variant="body2" sx={{ my: 1 }}>
        {trying === passes.method ? "Choose one to see it beside the present one. Shapes, bases and own colours stay." : "Left of the seam as it is, right of it as it would be. Shapes, bases and own colours stay."}
      </Typography>
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button variant="contained" disabled={trying === passes.method} onClick={() => { onTry(null); void live.make(withMethod(passes, trying)); }}>Use this method</Button>
        <Button color="inherit" onClick={stay}>Stay as it is</Button>
      </Box>
    </Box>
  );
}

/** What a method lets one choose besides its passes' rules. */
function Choices({ passes, method, live }: { passes: Passes; method: Schemas["MethodInfo"] | undefined; live: Live }) {
  const make = (change: Partial<Passes>) => void live.make({ kind: "set_passes", passes: { ...passes, ...change } });
  const small = { "& .MuiToggleButton-root": { py: 0, px: 1, fontSize: 12.5 } } as const;
  return (
    <>
      {method?.choices.includes("over") && (
        <FormControlLabel label="one layer over all"
          control={<Switch size="small" checked={passes.over_figure ?? false} onChange={(_, v) => make({ over_figure: v })} />} />
      )}
      {method?.choices.includes("turn_to") && (
        <ToggleButtonGroup exclusive size="small" aria-label="Hue of shades turns to" value={passes.turn_to ?? "red"} sx={small} onChange={(_, v: Passes["turn_to"] | null) => v && make({ turn_to: v })}>
          <ToggleButton value="red">towards red</ToggleButton>
          <ToggleButton value="ambient">ambient</ToggleButton>
        </ToggleButtonGroup>
      )}
      {method?.choices.includes("tones") && (
        <ToggleButtonGroup exclusive size="small" aria-label="Tones of light" value={passes.tones ?? 2} sx={small} onChange={(_, v: Passes["tones"] | null) => v && make({ tones: v })}>
          <ToggleButton value={2}>2 tones</ToggleButton>
          <ToggleButton value={3}>3 tones</ToggleButton>
        </ToggleButtonGroup>
      )}
    </>
  );
}
