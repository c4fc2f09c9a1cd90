import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useRef, useState } from "react";
import type { Point } from "../../api/client";
import { useEvents } from "../../api/events";
import { tellProblem } from "../../api/notice";
import { remarksOf, verdictOf, wishOf, WISHES, type Standing, type Wish } from "../../api/review";
import { useCamera } from "../../picture/camera";
import { PictureView, type Tool } from "../../picture/PictureView";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import { Key } from "../../ui/Key";
import { useKeys } from "../../ui/useKeys";
import { deliver } from "../deliver/deliver";
import type { SideProps } from "../StepProps";
import { useLiveEdit } from "../useLiveEdit";
import { useWorkedOut } from "../useWorkedOut";
import { REVIEW } from "./keys";
import { drawLine, paintRemarks, remarkAt } from "./paintRemarks";

const [STEP, NEAR, MOST] = [3, 14, 1500]; // px, px, points
const NAME = "wardrobe-reviewer";

/** What is said of the piece by whoever looks at it: pins, drawn corrections, a verdict. */
export function Review({ piece, tabs }: SideProps) {
  const { events = [], note } = useEvents(piece.id);
  const remarks = remarksOf(events);
  const [draft, setDraft] = useState<Point[] | null>(null);
  const [here, setHere] = useState<number | null>(null);
  const [by, setBy] = useState(() => localStorage.getItem(NAME) ?? "");
  const [writing, setWriting] = useState(false);
  const show = useCamera((s) => s.show);
  const workedOut = useWorkedOut(useLiveEdit(piece));
  const zoom = useRef(1);
  const drawing = useRef<Point[] | null>(null);
  const verdict = verdictOf(events, "piece");
  const open = remarks.filter((r) => !r.done);
  const name = (text: string) => { setBy(text); localStorage.setItem(NAME, text); };
  const tool: Tool = {
    cursor: "crosshair",
    down: (x, y) => { drawing.current = [[x, y]]; },
    move: (x, y) => {
      const points = drawing.current;
      const last = points?.at(-1);
      if (!points || !last || points.length >= MOST) return;
      if (Math.hypot(x - last[0], y - last[1]) < STEP / zoom.current) return;
      drawing.current = [...points, [x, y]];
      setDraft(drawing.current);
    },
    up: (x, y) => {
      const points = drawing.current;
      drawing.current = null;
      if (!points) return;
      const met = points.length === 1 ? remarkAt(remarks, x, y, NEAR / zoom.current) : null;
      setHere(met?.number ?? null);
      setDraft(met ? null : points.map(([a, b]) => [round(a), round(b)]));
    },
    cancel: () => { drawing.current = null; setDraft(null); },
  };
  const pick = (by: number) => {
    const at = remarks.findIndex((r) => r.number === here);
    const next = remarks[(at + by + remarks.length) % Math.max(1, remarks.length)];
    setDraft(null);
    setHere(next?.number ?? null);
  };
  const settle = (r: Standing) => void note({ kind: "resolution", remark: r.number, done: !r.done });
  useKeys(REVIEW.before, () => pick(-1));
  useKeys(REVIEW.after, () => pick(1));
  useKeys(REVIEW.settle, () => { const r = remarks.find((one) => one.number === here); if (r) settle(r); });
  const say = (what: "approved" | "changes wanted") => void note({ kind: "verdict", verdict: what, about: "all",
    look: "piece", text: "", by, changes: piece.changes });
  const sheet = async () => {
    setWriting(true);
    try {
      await deliver(piece, { format: "review pdf" }, () => undefined);
    } catch (error) {
      tellProblem(error);
    } finally {
      setWriting(false);
    }
  };
  return (
    <Workplace title="Check" lead="Click the picture to pin a remark, or draw what should be otherwise."
      picture={
        <PictureView piece={piece} kind="picture" tool={tool} overlay={(ctx, at) => {
          zoom.current = at;
          paintRemarks(ctx, remarks, here, at);
          if (draft) drawLine(ctx, draft, "#a5262f", at, true);
          const [pin] = draft ?? [];
          if (pin) { ctx.fillStyle = "#a5262f"; ctx.beginPath(); ctx.arc(...pin, 6 / at, 0, 2 * Math.PI); ctx.fill(); }
        }} />
      }>
      {tabs}
      <TextField fullWidth label="Who is looking" value={by} onChange={(e) => name(e.target.value)}
        slotProps={{ htmlInput: { maxLength: 80 } }} />
      {draft && <NewRemark key={draft[0]?.join()} drawn={draft.length > 1} onCancel={() => setDraft(null)}
        onGive={async (wish, text) => {
          if (await note({ kind: "remark", points: draft, wish, text, by, look: "piece", changes: piece.changes }))
            setDraft(null);
        }} />}
      <Box sx={{ display: "flex", alignItems: "baseline", mt: 1.5 }}>
        <Typography variant="h3" component="h2" sx={{ flex: 1 }}>Remarks</Typography>
        <Typography variant="body2" role="status">{remarks.length ? <><Figure size={12}>{open.length}</Figure> of{" "}
          <Figure size={12}>{remarks.length}</Figure> open</> : "none yet"}</Typography>
      </Box>
      <Box component="ol" aria-label="Remarks" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {remarks.map((r, k) => (
          <Box component="li" key={r.number} data-testid="remark" aria-current={r.number === here || undefined}
            sx={{ display: "grid", gridTemplateColumns: "24px 1fr auto", columnGap: 1, py: 0.5, borderTop: 1,
              borderColor: "divider", bgcolor: r.number === here ? "action.hover" : undefined }}>
            <Figure>{k + 1}</Figure>
            <Box component="button" type="button" onClick={() => { setDraft(null); setHere(r.number);
              show(around(r.points as Point[])); }}
              sx={{ border: 0, p: 0, minHeight: 36, bgcolor: "transparent", font: "inherit", textAlign: "left",
                cursor: "pointer", color: r.done ? "text.secondary" : "text.primary", overflowWrap: "anywhere",
                "&:focus-visible": { outline: "2px dashed", outlineColor: "primary.main", outlineOffset: 2 } }}>
              <Box component="span" sx={{ display: "block", fontWeight: 640, fontSize: 13.5,
                textDecoration: r.done ? "line-through" : "none" }}>{r.text || capital(r.wish)}</Box>
              <Typography variant="body2" component="span">{[r.text && r.wish, r.by, r.at.slice(0,
                10)].filter(Boolean).join(" · ")}</Typography>
            </Box>
            <Box sx={{ display: "flex", alignItems: "center" }}>
              {canBeDone(r) && <Button size="small" {...workedOut(r.number, () => wishOf(piece.id, r.number),
                () => settle(r))}>Do it</Button>}
              <Button size="small" color="inherit" onClick={() => settle(r)}>{r.done ? "Reopen" : "Settle"}
                {r.number === here && <Key of={REVIEW.settle} />}</Button>
            </Box>
          </Box>
        ))}
      </Box>
      <Typography variant="h3" component="h2" sx={{ mt: 2 }}>Verdict</Typography>
      <Typography variant="body2" role="status">{verdict ? `${capital(verdict.verdict)}${verdict.by
        ? ` by ${verdict.by}` : ""}, ${verdict.at.slice(0, 10)}${verdict.changes === piece.changes ? ""
          : "; it has been changed since"}.` : "Nobody has said yet."}</Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 0.75 }}>
        <Button variant="outlined" onClick={() => say("approved")}>Approved as it is</Button>
        <Button variant="outlined" onClick={() => say("changes wanted")}>Changes wanted</Button>
      </Box>
      <Button sx={{ alignSelf: "flex-start", ml: -1, mt: 1 }} disabled={writing || !remarks.length}
        onClick={() => void sheet()}>{writing ? "Writing …" : "Review sheet, PDF"}</Button>
    </Workplace>
  );
}

/** What is wanted at the place, in a word, and in one's own. */
function NewRemark({ drawn, onGive, onCancel }: { drawn: boolean; onGive: (wish: Wish, text: string) => Promise<void>;
  onCancel: () => void }) {
  const [wish, setWish] = useState<Wish>("look here");
  const [text, setText] = useState("");
  return (
    <Box component="form" aria-label="New remark" onSubmit={(e: React.FormEvent) => { e.preventDefault();
      void onGive(wish, text.trim()); }}
      onKeyDown={(e) => { if (e.key === "Escape") { e.stopPropagation(); onCancel(); } }}
      sx={{ mt: 1.5, p: 1, border: "2px dashed", borderColor: "primary.main", borderRadius: 1 }}>
      <Select fullWidth value={wish} inputProps={{ "aria-label": "What is wanted" }}
        onChange={(e) => setWish(e.target.value)}>
        {WISHES.map((w) => <MenuItem key={w} value={w}>{capital(w)}</MenuItem>)}
      </Select>
      <TextField autoFocus fullWidth multiline maxRows={4} value={text} onChange={(e) => setText(e.target.value)}
        placeholder={drawn ? "What was drawn means …" : "What should be otherwise"} sx={{ mt: 1 }}
        onKeyDown={(e) => { if (e.key === "Enter" && !e.shiftKey) { e.preventDefault();
          void onGive(wish, text.trim()); } }}
        slotProps={{ htmlInput: { "aria-label": "Remark", maxLength: 2000 } }} />
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        <Button type="submit" variant="contained">Pin it</Button>
        <Button color="inherit" onClick={onCancel}>Cancel</Button>
      </Box>
    </Box>
  );
}

/** Whether what was drawn says by itself what is to be done. */
const canBeDone = (r: Standing) => !r.done && r.points.length > 1 && (r.wish === "shade here"
  || r.wish === "light here");

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
const round = (v: number) => Math.round(10 * v) / 10;

function around(points: Point[]): [number, number, number, number] {
  const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
  const [left, top] = [Math.min(...xs), Math.min(...ys)];
  return [left - 60, top - 60, Math.max(...xs) - left + 120, Math.max(...ys) - top + 120];
}
