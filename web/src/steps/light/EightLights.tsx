import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import type { Piece, Schemas } from "../../api/client";
import { EditThumb } from "../../picture/EditThumb";
import { EIGHT } from "./presets";

type Light = Schemas["Light"];

/** The figure under eight lights, to choose one. */
export function EightLights({ piece, light, onMake }: { piece: Piece; light: Light; onMake: (light: Light) => void }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button onClick={() => setOpen(!open)} aria-expanded={open}
        sx={{ alignSelf: "center" }}>{open ? "Put the eight lights away" : "Look at eight lights"}</Button>
      {open && (
        <Box role="group" aria-label="Eight lights"
          ref={(box: HTMLElement | null) => box?.scrollIntoView({ block: "nearest" })}
            sx={{ display: "grid", gridTemplateColumns: "repeat(4, 1fr)", gap: 1, my: 1 }}>
          {EIGHT.map(([name, place]) => (
            <Thumb key={name} name={name} piece={piece} light={{ ...light, ...place }}
              chosen={light.azimuth === place.azimuth && light.height === place.height}
                onClick={() => onMake({ ...light, ...place })} />
          ))}
        </Box>
      )}
    </>
  );
}

function Thumb({ name, piece, light, chosen, onClick }: { name: string; piece: Piece; light: Light; chosen: boolean;
  onClick: () => void }) {
  return (
    <Button onClick={onClick} aria-pressed={chosen} color="inherit" sx={{
      display: "flex", flexDirection: "column", p: 0.5, minWidth: 0, fontSize: 12.5, fontWeight: chosen ? 640
        : 450, borderRadius: 1,
      outline: chosen ? "2px dashed" : "none", outlineColor: "primary.main", outlineOffset: -2,
    }}>
      <EditThumb piece={piece} edit={{ kind: "move_light", light }} name={name} />
      {name}
    </Button>
  );
}
