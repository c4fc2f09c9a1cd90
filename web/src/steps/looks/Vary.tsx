import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { Choice } from "../../ui/Choice";
import Typography from "@mui/material/Typography";
import { useMemo, useState } from "react";
import { toProblem, type ProposedLook, type VaryWish } from "../../api/client";
import { useCharacters } from "../../api/characters";
import { useLookProposals, useTried } from "../../api/looks";
import { tell } from "../../api/notice";
import { useChanges, useMeta } from "../../api/pieces";
import { Seam } from "../../theme/Seam";
import { Figurine } from "./Figurine";
import type { Wearing } from "./LooksStep";
import { coloursOf } from "./palette";
import { FileButton } from "../../ui/FileButton";

type Way = "harmony" | "palette" | "few" | "time";
const EDGE = 420;
const KEPT_MATERIALS = new Set(["skin", "hair", "wet"]);
const WAYS: { key: Way; label: string }[] =
  [{ key: "harmony", label: "Harmony" }, { key: "palette", label: "Palette" }, { key: "few", label: "Few colours" }, {
    key: "time", label: "Time of day" }];

/** Proposals beside each other; a click hangs one on the rail. */
export function Vary({ wearing }: { wearing: Wearing }) {
  const { piece, chosen, choose } = wearing;
  const { parts } = piece.recipe;
  const schemes = useMeta().data?.schemes ?? [];
  const { edit } = useChanges(piece.id);
  const [way, setWay] = useState<Way>("harmony");
  const [scheme, setScheme] = useState("opposite");
  const [seed, setSeed] = useState(0);
  const [lead, setLead] = useState<number | null>(null);
  const [few, setFew] = useState(3);
  const [palette, setPalette] = useState<string[] | null>(null);
  const [locked, setLocked] =
    useState<ReadonlySet<string>>(() => new Set(parts.filter((p) => KEPT_MATERIALS.has(p.material ??
      "")).map((p) => p.id)));
  const { data: characters } = useCharacters();

  const wish = useMemo((): VaryWish | null => {
    const all = { start: chosen, locked: parts.map((p) => p.id).filter((id) => locked.has(id)), count: 6, seed };
    if (!parts.length) return null;
    if (way === "harmony") return { kind: "harmony", scheme: scheme as Extract<VaryWish, { kind: "harmony" }>["scheme"],
      lead, ...all };
    if (way === "few") return { kind: "few", colours: few, ...all };
    if (way === "time") return { kind: "time", ...all };
    return palette ? { kind: "palette", colours: palette, ...all } : null;
  }, [way, scheme, seed, lead, few, palette, locked, chosen, parts]);
  const { data: proposals, error, isFetching } = useLookProposals(piece, wish);
  const shown = wish ? (proposals ?? []) : [];
  const tried = useTried(piece, shown.map((p) => ({ start: chosen, bases: p.bases, light: p.light, passes: p.passes })),
    EDGE).data;

  const hang = async (p: ProposedLook) => {
    let after = await edit({ kind: "add_look", name: p.name, like: chosen, bases: p.bases, light: p.light });
    const made = after?.recipe.looks?.find((k) => !piece.recipe.looks?.some((old) => old.id === k.id));
    if (made && p.passes) after = await edit({ kind: "set_passes", passes: p.passes, targets: [made.id] });
    if (made && after) tell(`“${made.name}” hangs on the rail.`);
  };
  const fromPicture = async (file: File | undefined) => {
    if (!file) return;
    try {
      setPalette(coloursOf(await createImageBitmap(file)));
    } catch {
      tell("This file is not a picture that the browser can show: PNG, JPEG or WebP work.", "error");
    }
  };
  return (
    <>
      <Choice label="How to vary" wide value={way} onChange={(v) => { setWay(v); setLead(null); }}
        options={WAYS.map((w) => ({ value: w.key, label: w.label }))} />
      {way === "harmony" && (
        <>
          <Choice label="Harmony" wide={3} value={scheme} onChange={(v) => { setScheme(v); setLead(null); }}
            options={schemes.map((s) => ({ value: s.key, label: s.label }))} sx={{ mt: 1 }} />
          <Typography variant="body2" sx={{ mt: 0.75 }}>{schemes.find((s) => s.key === scheme)?.why}</Typography>
        </>
      )}
      {way === "few" && (
        <Choice label="How many colours" value={few} onChange={setFew}
          options={[1, 2, 3, 4, 5, 6].map((n) => ({ value: n, label: n }))} sx={{ mt: 1 }} />
      )}
      {way === "palette" && (
        <Box sx={{ mt: 1 }}>
          <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
            <FileButton label="Picture for a palette" accept="image/*" variant="outlined"
              onFiles={([file]) => void fromPicture(file)}>From a picture</FileButton>
            {characters?.filter((c) => c.card.length > 0).map((c) => <Button key={c.id} variant="outlined"
              onClick={() => setPalette(c.card.map((x) => x.colour))}>{c.name}’s card</Button>)}
          </Box>
          {palette ? <Box aria-label="Palette"
            sx={{ display: "flex", height: 26, mt: 1, borderRadius: 1, overflow: "hidden", border: 1,
              borderColor: "divider" }}>{palette.map((c, k) => <Box key={k} title={c}
                sx={{ flex: 1, bgcolor: c }} />)}</Box>
            : <Typography variant="body2" sx={{ mt: 1 }}>Hues and strengths are taken from a reference picture or a
              card; values stay those of the figure.</Typography>}
        </Box>
      )}
      {error && <Typography role="alert" sx={{ mt: 1 }}>{toProblem(error).message}</Typography>}
      <Box sx={{ display: "flex", gap: 1, my: 1.25, alignItems: "center" }}>
        <Button variant="contained" disabled={!wish || way === "time"}
          onClick={() => { setSeed((s) => s + 1); }}>{isFetching ? "Working out …" : "Others"}</Button>
        {lead !== null && <Button color="inherit" onClick={() => setLead(null)}>All hues again</Button>}
      </Box>
      <Box role="list" aria-label="Proposed looks"
        sx={{ display: "grid", gridTemplateColumns: "repeat(3, 1fr)", gap: 1 }}>
        {shown.map((p, k) => (
          <Box key={`${p.name}${k}`} role="listitem"
            sx={{ border: 1, borderColor: "divider", borderRadius: 1, overflow: "hidden", display: "flex",
              flexDirection: "column" }}>
            <Figurine strip={tried?.count === shown.length ? tried : undefined} at={k}
              ratio={`${piece.width} / ${piece.height}`} />
            <Box sx={{ px: 0.75, pt: 0.5, fontWeight: 620, fontSize: 12.5, lineHeight: 1.2 }}>{p.name}</Box>
            <Typography variant="body2" sx={{ px: 0.75, fontSize: 11.5, flex: 1 }}>{p.said}</Typography>
            <Box sx={{ display: "flex" }}>
              <Button size="small" sx={{ flex: 1, minWidth: 0 }} aria-label={`Hang ${p.name}`}
                onClick={() => void hang(p)}>Hang</Button>
              {way === "harmony" && p.lead != null && <Button size="small" color="inherit"
                sx={{ flex: 1, minWidth: 0, fontSize: 12 }} aria-label={`More like ${p.name}`}
                  onClick={() => { setLead(p.lead ?? null); setSeed((s) => s + 1); }}>More like</Button>}
            </Box>
          </Box>
        ))}
      </Box>
      <Seam />
      <Typography variant="h3" component="h2">Locked</Typography>
      <Typography variant="body2">Parts that keep their colour.</Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr" }}>
        {parts.map((p) => (
          <FormControlLabel key={p.id} sx={{ m: 0 }} control={<Checkbox size="small" checked={locked.has(p.id)}
            onChange={() => setLocked((now) => { const next = new Set(now); if (!next.delete(p.id)) next.add(p.id);
              return next; })} />} label={p.name} />
        ))}
      </Box>
      {chosen !== "piece" && <Button color="inherit" sx={{ mt: 1 }} onClick={() => choose("piece")}>Start from the piece
        instead</Button>}
    </>
  );
}
