import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Edit, FinishDraft, FinishLayer, Piece, Point } from "../../api/client";
import { Seam } from "../../theme/Seam";
import { ModeFields } from "./ModeFields";
import { PaintFields, Strength } from "./PaintFields";
import { ShapeFields } from "./ShapeFields";

/** All that can be set of a layer. */
export function LayerEditor({ piece, look, layer, onShow, onMake, onCancel, onPlace, make }: {
  piece: Piece; look: string; layer: FinishLayer; make: (edit: Edit) => Promise<unknown>;
  onShow: (more: Partial<FinishDraft>) => void; onMake: (more: Partial<FinishDraft>) => void; onCancel: () => void;
  onPlace: (place: Point | null) => void;
}) {
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
      <ModeFields piece={piece} look={look} layer={layer} onMake={onMake} onPlace={onPlace} />
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
