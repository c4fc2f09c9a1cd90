import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, exactly, type Piece, type PictureKind } from "../../api/client";
import { useReferences } from "../../api/references";
import { useCamera } from "../../picture/camera";
import { PictureView } from "../../picture/PictureView";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import { Choice } from "../../ui/Choice";
import { Rail } from "../../ui/Rail";
import { useKeys } from "../../ui/useKeys";
import type { SideProps } from "../StepProps";
import { COMPARE } from "./keys";

type Way = "divider" | "beside" | "blink" | "difference";
const WAYS: { value: Way; label: string }[] = [{ value: "divider", label: "Divider" },
  { value: "beside", label: "Side by side" }, { value: "blink", label: "Blink" },
  { value: "difference", label: "Difference" }];
const BLINK_MS = 700;

const kindOf = (side: string): PictureKind => `side:${side}`;

/** Any two states of a piece: now, its drawing, a look, some changes ago, without one layer; or a reference. */
export function Compare({ piece, tabs }: SideProps) {
  const [left, setLeft] = useState("drawing");
  const [right, setRight] = useState("now");
  const [way, setWay] = useState<Way>("divider");
  const [turned, turn] = useState(false);
  const { references } = useReferences(piece.id);
  const options = [...sidesOf(piece), ...references.filter((r) => r.piece === piece.id).map((r) => (
    { value: `reference ${r.number}`, label: r.note || r.name }))];
  const held = (side: string) => side.startsWith("back ") ? piece.changes > 0 : options.some((o) => o.value === side);
  const one = held(left) ? left : "drawing";
  const other = held(right) ? right : "now";
  const show = useCamera((s) => s.show);
  useEffect(() => {
    if (way !== "blink") return;
    const timer = setInterval(() => turn((t) => !t), BLINK_MS);
    return () => clearInterval(timer);
  }, [way]);
  useKeys(COMPARE.swap, () => { setLeft(other); setRight(one); });
  useKeys(COMPARE.way, () => setWay((w) => WAYS[(WAYS.findIndex((o) => o.value === w) + 1) % WAYS.length]?.value
    ?? "divider"));
  const { data: apart } = useQuery({
    queryKey: ["difference", piece.id, piece.revision, one, other],
    queryFn: () => exactly<"/api/pieces/{piece_id}/difference", "get">(api.GET("/api/pieces/{piece_id}/difference", {
      params: { path: { piece_id: piece.id }, query: { side: one, against: other } } })),
    placeholderData: keepPreviousData,
  });
  const label = (side: string) => options.find((o) => o.value === side)?.label ?? agoInWords(side);
  return (
    <Workplace title="Check" lead="Two states of the picture against each other."
      picture={way === "beside" ? (
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: "2px", height: "100%",
          gridTemplateRows: "minmax(0, 1fr)" }}>
          {[one, other].map((side, k) => (
            <Box key={k} sx={{ position: "relative", minWidth: 0 }}>
              <PictureView piece={piece} kind={kindOf(side)} />
              <Caption>{label(side)}</Caption>
            </Box>
          ))}
        </Box>
      ) : way === "difference" ? (
        <PictureView piece={piece} kind={`side:${one}~${other}`} />
      ) : (
        <Box sx={{ position: "relative", height: "100%" }}>
          <PictureView piece={piece} kind={kindOf(other)} compare={kindOf(one)}
            sides={`${label(one)} │ ${label(other)}`}
            {...(way === "blink" && { only: turned ? "compared" : "kind" })} />
          {way === "blink" && <Caption>{label(turned ? one : other)}</Caption>}
        </Box>
      )}>
      {tabs}
      <SideField name="Left" value={one} options={options} onChange={setLeft} piece={piece} />
      <SideField name="Right" value={other} options={options} onChange={setRight} piece={piece} />
      <Choice label="How they are compared" wide={2} value={way} onChange={setWay} options={WAYS}
        sx={{ my: 1.5 }} />
      {way === "difference" && <Scale />}
      <Typography role="status" sx={{ mt: 0.5 }}>
        {!apart ? "Measuring …" : apart.most === 0 ? "No pixel differs." : <>
          <Figure>{apart.mean.toFixed(2)} ΔE</Figure> on the mean, <Figure>{apart.most.toFixed(1)}</Figure> at
          most.{" "}
          <Figure>{percent(apart.noticed)}</Figure> of the picture differ noticeably, <Figure>{percent(apart.other)}
          </Figure> are of another colour.</>}
      </Typography>
      {apart && apart.place.length > 0 && <Button sx={{ alignSelf: "flex-start", ml: -1 }}
        onClick={() => show(apart.place as [number, number, number, number])}>Show where they differ</Button>}
    </Workplace>
  );
}

const percent = (share: number) => `${(100 * share).toFixed(share < 0.1 ? 1 : 0)} %`;
const agoInWords = (side: string) => { const n = Number(side.split(" ")[1]);
  return n === 1 ? "One change ago" : `${n} changes ago`; };

interface Option { value: string; label: string }

function sidesOf({ recipe, changes }: Piece): Option[] {
  return [
    { value: "now", label: "The piece now" }, { value: "drawing", label: "The drawing" },
    ...(changes > 0 ? [{ value: "back", label: "Some changes ago" }] : []),
    ...(recipe.looks ?? []).filter((k) => !k.retired).map((k) => ({ value: `look ${k.id}`, label: k.name })),
    ...(recipe.finish ?? []).map((f) => ({ value: `without ${f.id}`, label: `Without ${f.name}` })),
  ];
}

/** Which state stands on a side; of changes, how many ago. */
function SideField({ name, value, options, piece, onChange }: { name: string; value: string; options: Option[];
  piece: Piece; onChange: (side: string) => void }) {
  const ago = value.startsWith("back ") ? Number(value.split(" ")[1]) : null;
  const [dragged, drag] = useState<number | null>(null);
  return (
    <>
      <Box sx={{ display: "grid", gridTemplateColumns: "80px 1fr", alignItems: "center", columnGap: 2, mt: 0.75 }}>
        <span>{name}</span>
        <Select value={ago === null ? value : "back"} inputProps={{ "aria-label": `${name} side` }}
          onChange={(e) => onChange(e.target.value === "back" ? "back 1" : e.target.value)}>
          {options.map((o) => <MenuItem key={o.value} value={o.value}>{o.label}</MenuItem>)}
        </Select>
      </Box>
      {ago !== null && piece.changes > 1 && <Rail label="How many" min={1} max={piece.changes}
        value={Math.min(dragged ?? ago, piece.changes)} onShow={drag}
        says={(v) => (v === piece.changes ? "all" : String(v))}
        onMake={(v) => { drag(null); onChange(`back ${v}`); }} />}
    </>
  );
}

function Caption({ children }: { children: string }) {
  return <Box sx={{ position: "absolute", top: 12, left: "50%", transform: "translateX(-50%)", px: 1, py: 0.25,
    borderRadius: 1, bgcolor: "background.paper", fontSize: 12, whiteSpace: "nowrap", maxWidth: "90%",
    overflow: "hidden", textOverflow: "ellipsis" }}>{children}</Box>;
}

const STOPS = [["#18181a", "0"], ["#343e78", "1"], ["#b03e6e", "5"], ["#f6a854", "15"], ["#fffade", "40"]] as const;

/** What the colours of the difference mean. */
function Scale() {
  return (
    <Box sx={{ mb: 1 }}>
      <Box sx={{ height: 14, borderRadius: 0.5, border: 1, borderColor: "divider",
        background: `linear-gradient(90deg, ${STOPS.map(([c]) => c).join(", ")})` }} />
      <Box sx={{ display: "flex", justifyContent: "space-between" }}>
        {STOPS.map(([, v]) => <Figure key={v} size={11.5}>{v}</Figure>)}
      </Box>
      <Typography variant="body2">ΔE: from 1 a difference is noticed, from 5 it is another colour.</Typography>
    </Box>
  );
}
