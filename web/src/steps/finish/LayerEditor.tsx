import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Edit, FinishDraft, FinishLayer, Piece } from "../../api/client";
import { useMeta } from "../../api/pieces";
import { Seam } from "../../theme/Seam";
import { PaintFields, Strength } from "./PaintFields";
import { Line, ShapeFields } from "./ShapeFields";

/** All that can be set of a layer. */
export function LayerEditor({ piece, layer, onShow, onMake, onCancel, make }: {
  piece: Piece; layer: FinishLayer; make: (edit: Edit) => Promise<unknown>;
  onShow: (more: Partial<FinishDraft>) => void; onMake: (more: Partial<FinishDraft>) => void; onCancel: () => void;
}) {
  const modes = useMeta().data?.modes ?? [];
  return (
    <Box role="group" aria-label={`Layer ${layer.name}`}>
      <Seam />
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr auto", gap: 1, mb: 1 }}>
        <Name name={layer.name} onMake={(name) => onMake({ name })} />
        <Button color="inherit" onClick={() => void make({ kind: "remove_finish", layers: [layer.id] })}>Take
          off</Button>
      </Box>
      <Strength value={layer.strength ?? 1} onShow={(strength) => onShow({ strength })}
        onMake={(strength) => onMake({ strength })} />
      <Line label="Mode">
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr auto", columnGap: 1 }}>
          <Select value={layer.mode} inputProps={{ "aria-label": "Mode" }}
            onChange={(e) => onMake({ mode: e.target.value })}>
            {modes.map((mode) => <MenuItem key={mode} value={mode}>{mode}</MenuItem>)}
          </Select>
          <FormControlLabel sx={{ ml: 0, mr: 0 }} label={<Typography variant="body2">over the lines</Typography>}
            control={<Switch size="small" checked={layer.over_lines ?? false}
              onChange={(_, over_lines) => onMake({ over_lines })} />} />
        </Box>
      </Line>
      <PaintFields piece={piece} paint={layer.paint} onShow={(paint) => onShow({ paint })}
        onMake={(paint) => onMake({ paint })} onCancel={onCancel} />
      <ShapeFields piece={piece} layer={layer} onShow={onShow} onMake={onMake} />
    </Box>
  );
}

function Name({ name, onMake }: { name: string; onMake: (name: string) => void }) {
  const [text, setText] = useState<string | null>(null);
  const finish = () => {
    if (text !== null && text.trim() && text !== name) onMake(text);
    setText(null);
  };
  return (
    <TextField label="Name" value={text ?? name} onChange={(e) => setText(e.target.value)} onBlur={finish}
      onKeyDown={(e) => { if (e.key === "Enter") finish(); if (e.key === "Escape") setText(null); }}
        slotProps={{ htmlInput: { maxLength: 60 } }} />
  );
}
