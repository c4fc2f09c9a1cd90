import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { keepProfile, type Piece, type Schemas } from "../../../api/client";
import { tellProblem } from "../../../api/notice";
import { useChanges } from "../../../api/pieces";
import { FileButton } from "../../../ui/FileButton";
import { NumberField } from "../../../ui/NumberField";
import { choose } from "../deliver";

type Press = Required<Schemas["PressSetup"]>;

const USUAL: Press = { profile: null, intent: "relative", black_point: true, most_ink: 300, paper: false };
const INTENTS: Record<string, string> = { relative: "Keep what can be printed", perceptual: "Keep relations",
  saturation: "Keep it pure", absolute: "As on this paper" };

/** By which profile and how it is printed. */
export function PressFields({ piece }: { piece: Piece }) {
  const { edit } = useChanges(piece.id);
  const [busy, setBusy] = useState(false);
  const press = { ...USUAL, ...piece.recipe.delivery?.press };
  const set = (some: Partial<Press>) => void edit(choose((now) => ({ press: { ...USUAL, ...now.press, ...some } })));
  const bring = async (file: File) => {
    setBusy(true);
    try {
      set({ profile: await keepProfile(file) });
    } catch (error) {
      tellProblem(error);
    } finally {
      setBusy(false);
    }
  };
  return (
    <Box component="section" aria-label="Press" sx={{ mt: 1.5 }}>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr auto", gap: 1 }}>
        <TextField select label="Profile" value={press.profile ? "own" : "coated"} onChange={(e) => {
          if (e.target.value === "coated") set({ profile: null }); }}>
          <MenuItem value="coated">Coated paper, offset</MenuItem>
          {press.profile && <MenuItem value="own">{press.profile.name}</MenuItem>}
        </TextField>
        <FileButton label="Profile of a press" accept=".icc,.icm,application/vnd.iccprofile" variant="outlined"
          disabled={busy} onFiles={([file]) => { if (file) void bring(file); }}>Bring one in</FileButton>
        <TextField select label="Colours out of reach" value={press.intent}
          onChange={(e) => set({ intent: e.target.value as Press["intent"] })}>
          {Object.keys(INTENTS).map((key) => <MenuItem key={key} value={key}>{INTENTS[key]} ({key})</MenuItem>)}
        </TextField>
        <NumberField label="Most ink" unit="%" value={press.most_ink} min={150} max={400} sx={{ width: 116 }}
          onKeep={(most_ink) => set({ most_ink })} />
      </Box>
      <FormControlLabel control={<Checkbox checked={press.black_point}
        onChange={(_, black_point) => set({ black_point })} />} label="Darkest to darkest (black point compensation)" />
      <FormControlLabel control={<Checkbox checked={press.paper} onChange={(_, paper) => set({ paper })} />}
        label="Show the colour of the paper, too" />
    </Box>
  );
}
