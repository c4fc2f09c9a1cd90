import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import { Choice } from "../../ui/Choice";
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

const withMethod = (passes: Passes, method: string):
  Edit => ({ kind: "set_passes", passes: { ...passes, method: method as MethodKey } });

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
    <Box sx={{ mb: 1.5 }}>
      <Choice label="Method" wide={1} value={trying} onChange={look}
        sx={{ "& button": { display: "block", textAlign: "left", p: 1, whiteSpace: "normal", textTransform: "none" } }}
        options={methods.map((m) => ({ value: m.key as string, label: (
          <>
            <Typography variant="h3" component="span" sx={{ display: "block" }}>{m.label}{m.key === passes.method &&
              <Box component="span" sx={{ fontWeight: 400, color: "text.secondary" }}>, as it is</Box>}</Typography>
            {m.key === trying && <Typography variant="body2" component="span">{m.when}</Typography>}
          </>
        ) }))} />
      <Typography variant="body2" sx={{ my: 1 }}>
        {trying === passes.method ? "Choose one to see it beside the present one. Shapes, bases and own colours stay."
          : "Left of the seam as it is, right of it as it would be. Shapes, bases and own colours stay."}
      </Typography>
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button variant="contained" disabled={trying === passes.method}
          onClick={() => { onTry(null); void live.make(withMethod(passes, trying)); }}>Use this method</Button>
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
        <FormControlLabel label="one layer over all" sx={{ ml: 0, mr: 1 }}
          control={<Switch size="small" checked={passes.over_figure ?? false}
            onChange={(_, v) => make({ over_figure: v })} />} />
      )}
      {method?.choices.includes("turn_to") && (
        <Choice label="Hue of shades turns to" value={passes.turn_to ?? "red"} onChange={(turn_to) => make({ turn_to })}
          sx={small}
          options={[{ value: "red", label: "towards red" }, { value: "ambient", label: "ambient" }]} />
      )}
      {method?.choices.includes("tones") && (
        <Choice label="Tones of light" value={passes.tones ?? 2} onChange={(tones) => make({ tones })} sx={small}
          options={[{ value: 2, label: "2 tones" }, { value: 3, label: "3 tones" }]} />
      )}
    </>
  );
}
