import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Piece } from "../../api/client";
import { tell } from "../../api/notice";
import { useChanges } from "../../api/pieces";
import { useTemplateChanges, useTemplates } from "../../api/stacks";

/** Arrangement, names, empty layers, modes and opacities, kept to be used again. */
export function Templates({ piece }: { piece: Piece }) {
  const { data: templates } = useTemplates();
  const { save, remove } = useTemplateChanges();
  const { edit } = useChanges(piece.id);
  const [name, setName] = useState("");
  const keep = async () => {
    if (await save(name.trim(), piece.id)) setName("");
  };
  return (
    <Box>
      <Typography variant="h3" component="h2">Stack templates</Typography>
      <Typography variant="body2">Arrangement, names, empty layers, and the method with its modes and
        opacities.</Typography>
      <Box component="ul" aria-label="Stack templates" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {templates?.map((t) => (
          <Box component="li" key={t.id} sx={{ display: "flex", alignItems: "center", gap: 1, minHeight: 40 }}>
            <Box sx={{ flex: 1, minWidth: 0, overflow: "hidden", textOverflow: "ellipsis" }}>
              <b>{t.name}</b> <Typography component="span"
                variant="body2">{t.delivery.arrangement}, {t.passes.method}</Typography>
            </Box>
            <Button color="inherit" onClick={() => void
              edit({ kind: "several", edits: [{ kind: "set_passes", passes: t.passes }, { kind: "set_delivery",
                delivery: t.delivery }] }).then((done) => done
                  && tell(`“${t.name}” is used. Undo takes it back.`))}>Use</Button>
            <Button color="inherit" aria-label={`Delete the template ${t.name}`} sx={{ color: "text.secondary" }}
              onClick={() => void remove(t.id)}>Delete</Button>
          </Box>
        ))}
      </Box>
      <Box sx={{ display: "flex", gap: 1, mt: 1.25 }}>
        <TextField fullWidth label="Keep this piece’s as" value={name} onChange={(e) => setName(e.target.value)}
          onKeyDown={(e) => { if (e.key === "Enter" && name.trim()) void keep(); }}
            slotProps={{ htmlInput: { maxLength: 120 } }} />
        <Button variant="outlined" disabled={!name.trim()} onClick={() => void keep()}>Keep</Button>
      </Box>
    </Box>
  );
}
