import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { useNavigate } from "react-router";
import { api, exactly, need, toProblem, type BroughtHome, type JobState, type LayeredFile, type LayerMatch,
  type PassKey, type Piece, type Returned, type StackLine, type Wishes } from "../api/client";
import { follow } from "../api/jobs";
import { tell, tellProblem } from "../api/notice";
import { useMeta, usePiece } from "../api/pieces";
import { broughtBy, fetchMatches, takeOver, useMatches } from "../api/stacks";
import { Workplace } from "../shell/Workplace";
import { Figure } from "../theme/Figure";
import { Brought } from "./Brought";
import { USUAL, WishList } from "./WishList";

interface Props {
  file: LayeredFile;
  tabs: ReactNode;
  picture: ReactNode;
  lit: number | null;
  onLight: (index: number | null) => void;
}

const differs = (r: Returned) => r.put_in > 0 || r.taken_out > 0 || r.colour != null;

/** Which part and pass each layer is, and what the piece would take over from it. */
export function Matching({ file, tabs, picture, lit, onLight }: Props) {
  const { data: pieces } = useQuery({ queryKey: ["pieces"], queryFn: () => need(api.GET("/api/pieces")) });
  const [chosen, setChosen] = useState<number | null>(file.piece);
  return (
    <Workplace title="Take over"
      lead="What was painted elsewhere becomes areas, touch-ups, colours and layers of the piece." picture={picture}>
      {tabs}
      <TextField select fullWidth label="Piece that it belongs to" value={chosen ?? ""}
        onChange={(e) => setChosen(Number(e.target.value))} sx={{ flexShrink: 0 }}>
        {pieces?.map((p) => <MenuItem key={p.id} value={p.id}>{p.title}</MenuItem>)}
      </TextField>
      {chosen === null ? <NoPiece file={file} />
        : <Matches key={chosen} file={file} pieceId={chosen} lit={lit} onLight={onLight} />}
    </Workplace>
  );
}

function NoPiece({ file }: { file: LayeredFile }) {
  const [job, setJob] = useState<JobState | null>(null);
  const navigate = useNavigate();
  const client = useQueryClient();
  const begin = async () => {
    try {
      const done = await follow(await exactly<"/api/layered/{file_id}/piece", "post">(api.POST(
        "/api/layered/{file_id}/piece", { params: { path: { file_id: file.id } } })), setJob);
      await client.invalidateQueries({ queryKey: ["layered"] });
      await client.invalidateQueries({ queryKey: ["pieces"] });
      if (done.piece) void navigate(`/piece/${done.piece}/parts`);
    } catch (problem) {
      tellProblem(problem);
    } finally {
      setJob(null);
    }
  };
  return (
    <>
      <Typography variant="body2" sx={{ mt: 1 }}>Choose a piece: layers are matched to its parts and passes by name,
        and by where they are painted.</Typography>
      <Typography variant="h3" component="h2" sx={{ mt: 2 }}>Or begin a piece from this file</Typography>
      <Typography variant="body2" sx={{ mb: 1 }}>Its lines become the drawing, each flat a part with its name and
        colour, and what is painted as shade and light touch-ups.</Typography>
      <Button variant="outlined" disabled={job !== null}
        onClick={() => void begin()}>{job ? `${job.doing || "Waiting"} …` : "Begin a piece"}</Button>
    </>
  );
}

function Matches({ file, pieceId, lit, onLight }: Pick<Props, "file" | "lit" | "onLight"> & { pieceId: number }) {
  const { data: piece } = usePiece(pieceId);
  const { data: told, error, isFetching, isPlaceholderData } = useMatches(file.id, piece);
  const client = useQueryClient();
  const [all, setAll] = useState(false);
  const [wishes, setWishes] = useState(USUAL);
  const [layers, setLayers] = useState(true);
  const [job, setJob] = useState<JobState | null>(null);
  const [brought, setBrought] = useState<BroughtHome | null>(null);
  if (error) return <Typography role="alert" sx={{ mt: 1 }}>{toProblem(error).message}</Typography>;
  if (!piece || !told) return <Typography variant="body2" sx={{ mt: 1 }}>{isFetching ? "Matching the layers …"
    : ""}</Typography>;

  const names = new Map(file.section.lines.filter((l) => l.kind === "layer").map((l) => [l.index, l]));
  const key = ["matches", file.id, piece.id, piece.revision];
  const correct = async (match: LayerMatch) => {
    try {
      const [compared] = await fetchMatches(file.id, piece.id, [match]);
      if (compared) client.setQueryData<Returned[]>(key,
        (now) => now?.map((r) => (r.match.index === match.index ? compared : r)));
    } catch (problem) {
      tellProblem(problem);
    }
  };
  const added = told.filter((r) => r.added);
  const bring = async (wanted: Wishes) => {
    try {
      const done = await follow(await takeOver(file.id, piece, told.map((r) => r.match),
        layers ? added.map((r) => r.match.index) : [], wanted), setJob);
      const came = broughtBy(done);
      setBrought(came);
      await client.invalidateQueries({ queryKey: ["piece", piece.id] });
      if (came?.changes.length === 0 && came.touch_ups === 0) tell("Nothing differs; the piece is as it was.");
    } catch (problem) {
      tellProblem(problem);
    } finally {
      setJob(null);
    }
  };
  const changed = told.filter((r) => (differs(r) || r.repainted > 0) && !r.added);
  const unsure = told.filter((r) => r.how === "none" && !r.added);
  const listed = (all ? [...told] : told.filter((r) => r.added || differs(r) || r.how === "none" || r.how === "pixels"
    || r.repainted > 0)).reverse();
  return (
    <>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, mt: 1.5 }}>
        <Typography variant="h3" component="h2" sx={{ flex: 1 }}>
          <Figure size={13}>{changed.length}</Figure> {changed.length === 1 ? "layer differs"
            : "layers differ"}{added.length > 0 && <>, <Figure size={13}>{added.length}</Figure> new</>}
          {unsure.length > 0 && <>, <Figure size={13}>{unsure.length}</Figure> not recognised</>}
        </Typography>
        <Button variant="contained" disabled={job !== null || isPlaceholderData}
          onClick={() => void bring(wishes)}>{job ? `${job.doing || "Waiting"} …` : "Take over"}</Button>
      </Box>
      {brought && <Brought came={brought} piece={piece} busy={job !== null || isPlaceholderData}
        onRest={() => void bring({ ...wishes, rest: true })} />}
      <WishList wishes={wishes} onWishes={setWishes} layers={layers} onLayers={setLayers} />
      <FormControlLabel control={<Checkbox checked={all} onChange={(_, on) => setAll(on)} />}
        label="List all layers of the file" />
      <Box component="ul" aria-label="Layers and what they are" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {listed.map((r) => <Row key={r.match.index} returned={r} line={names.get(r.match.index)} piece={piece}
          lit={lit === r.match.index} onLight={onLight} onCorrect={(m) => void correct(m)} />)}
      </Box>
      {listed.length === 0 && <Typography variant="body2" sx={{ mt: 1 }}>Every layer was recognised by its name,
        and none differs from the piece.</Typography>}
    </>
  );
}

const KINDS: Partial<Record<LayerMatch["kind"], string>> = { base: "base", lines: "lines", silhouette: "silhouette",
  background: "background", pattern: "pattern", mask: "mask", other: "a layer of its own" };

function Row({ returned, line, piece, lit, onLight, onCorrect }: { returned: Returned; line: StackLine | undefined;
  piece: Piece; lit: boolean; onLight: (index: number | null) => void; onCorrect: (match: LayerMatch) => void }) {
  const passes = useMeta().data?.passes ?? {};
  const { match } = returned;
  const what = returned.added ? "other" : match.kind === "pass" ? `pass:${match.name}` : match.kind;
  const choose = (value: string) => {
    const [kind, name] = value.split(":") as [LayerMatch["kind"], PassKey | undefined];
    onCorrect({ ...match, kind, name: name ?? null, outside: false });
  };
  return (
    <Box component="li" onPointerEnter={() => onLight(match.index)} onPointerLeave={() => onLight(null)}
      sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", columnGap: 1, rowGap: 0.5, py: 0.75, borderTop: 1,
        borderColor: "divider", ...(lit && { bgcolor: "action.hover" }) }}>
      <Box sx={{ gridColumn: "1 / -1", display: "flex", gap: 1, alignItems: "baseline" }}>
        <Box sx={{ fontWeight: 640, flex: 1, minWidth: 0, overflow: "hidden", textOverflow: "ellipsis",
          whiteSpace: "nowrap" }}>{line?.name ?? match.index}</Box>
        {returned.added ? <Typography variant="body2">new, comes as a layer of the finish</Typography>
          : differs(returned) ? (
          <Box sx={{ display: "flex", alignItems: "center", gap: 0.75, whiteSpace: "nowrap" }}>
            {returned.put_in > 0 && <Figure>+{returned.put_in.toLocaleString("en")} px</Figure>}
            {returned.taken_out > 0 && <Figure>−{returned.taken_out.toLocaleString("en")} px</Figure>}
            {returned.colour && <Box title={returned.colour}
              sx={{ width: 26, height: 16, borderRadius: 0.5, border: 1, borderColor: "divider",
                bgcolor: returned.colour }} />}
          </Box>
        ) : (
          <Typography variant="body2">
            {returned.repainted > 0 ? <>other areas, <Figure>{returned.repainted.toLocaleString("en")} px</Figure></>
              : returned.how === "none" ? "not recognised" : match.kind === "other" ? "stays in the file"
                : "as in the piece"}
          </Typography>
        )}
      </Box>
      <Select size="small" value={match.part ?? "figure"} inputProps={{ "aria-label": `Part of ${line?.name}` }}
        onChange={(e) => onCorrect({ ...match, part: e.target.value === "figure" ? null : e.target.value })}>
        <MenuItem value="figure">{match.kind === "base" ? "a new part" : "whole figure"}</MenuItem>
        {piece.recipe.parts.map((p) => <MenuItem key={p.id} value={p.id}>{p.name}</MenuItem>)}
      </Select>
      <Select size="small" value={what} inputProps={{ "aria-label": `Purpose of ${line?.name}` }}
        onChange={(e) => choose(e.target.value)}>
        {Object.entries(KINDS).map(([key, label]) => <MenuItem key={key} value={key}>{label}</MenuItem>)}
        {Object.entries(passes).map(([key, label]) => <MenuItem key={key}
          value={`pass:${key}`}>{label.toLowerCase()}</MenuItem>)}
      </Select>
    </Box>
  );
}
