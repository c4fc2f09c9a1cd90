import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, need, type Piece } from "../api/client";
import { tellProblem } from "../api/notice";
import { piecesQuery, useMeta } from "../api/pieces";
import { useEstimate, usePlans, type Plan } from "../api/time";
import { STEPS } from "../shell/steps";
import { Figure } from "../theme/Figure";
import type { Planning } from "./usePlanning";
import { sum, type Standing } from "./useStanding";
import { told } from "./words";

/** When it is due and for whom, minutes by step, what is left out first, and what the drawing says it will take. */
export function PlanSide({ piece, standing, planning }: { piece: Piece; standing: Standing; planning: Planning }) {
  const { plan } = standing.state;
  return (
    <Box sx={{ display: "grid", gap: 1.5 }}>
      <Box sx={{ display: "grid", gridTemplateColumns: "150px 1fr 84px", gap: 1 }}>
        <Typed label="Due" type="date" value={plan.due ?? ""} onDone={(v) => planning.plan({ due: v || null })} />
        <Typed label="For whom or what" value={plan.occasion} most={120}
          onDone={(v) => planning.plan({ occasion: v.trim() })} />
        <Typed label="Rounds" type="number" value={String(plan.rounds)} onDone={(v) => planning.plan({ rounds:
          Math.min(20, Math.max(0, Math.round(Number(v) || 0))) })} />
      </Box>
      <Templates plan={plan} planning={planning} />
      <Minutes plan={plan} planning={planning} />
      <EstimateLine piece={piece} plan={plan} planning={planning} />
      <LeaveOut plan={plan} planning={planning} />
    </Box>
  );
}

/** A field whose value counts when it is left, or at Enter. */
function Typed({ label, value, type = "text", most, onDone }: { label: string; value: string; type?: string;
  most?: number; onDone: (value: string) => unknown }) {
  const [text, setText] = useState(value);
  const [was, setWas] = useState(value);
  if (was !== value) { setWas(value); setText(value); }
  const done = () => { if (text !== value) onDone(text); };
  return <TextField label={label} type={type} value={text} onChange={(e) => setText(e.target.value)} onBlur={done}
    onKeyDown={(e) => { if (e.key === "Enter") done(); }}
    slotProps={{ htmlInput: { maxLength: most, ...(type === "number" && { min: 0, step: "any" }) },
      inputLabel: { shrink: true } }} />;
}

function Templates({ plan, planning }: { plan: Plan; planning: Planning }) {
  const { data: plans = [] } = usePlans();
  const client = useQueryClient();
  const [name, setName] = useState("");
  const refresh = () => client.invalidateQueries({ queryKey: ["plans"] });
  const same = plans.find((p) => STEPS.every(({ key }) => Math.abs((p.minutes[key] ?? 0) - (plan.minutes[key]
    ?? 0)) < 0.01));
  const keep = async () => {
    try {
      await need(api.POST("/api/plans", { body: { name, minutes: plan.minutes, rounds: plan.rounds } }));
      setName("");
    } catch (error) { tellProblem(error); }
    await refresh();
  };
  const remove = async (id: number) => {
    try {
      await need(api.DELETE("/api/plans/{plan_id}", { params: { path: { plan_id: id } } }));
    } catch (error) { tellProblem(error); }
    await refresh();
  };
  return (
    <Box sx={{ display: "grid", gap: 1 }}>
      <Box sx={{ display: "flex", gap: 1 }}>
        <TextField select label="Begin from" value={same?.key ?? ""} sx={{ flex: 1 }}
          onChange={(e) => {
            const chosen = plans.find((p) => p.key === e.target.value);
            if (chosen) void planning.plan({ minutes: chosen.minutes, rounds: chosen.rounds });
          }} slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}>
          <MenuItem value="" disabled>A plan of its own</MenuItem>
          {plans.map((p) => <MenuItem key={p.key} value={p.key}>{p.name}</MenuItem>)}
        </TextField>
        {same?.id != null && <Button color="inherit" onClick={() => void remove(same.id as number)}>Throw away</Button>}
      </Box>
      {!same && (
        <Box component="form" sx={{ display: "flex", gap: 1 }}
          onSubmit={(e: React.FormEvent) => { e.preventDefault(); if (name.trim()) void keep(); }}>
          <TextField label="Keep this plan as" value={name} onChange={(e) => setName(e.target.value)} sx={{ flex: 1 }}
            slotProps={{ htmlInput: { maxLength: 120 } }} />
          <Button type="submit" variant="outlined" disabled={!name.trim()}>Keep it</Button>
        </Box>
      )}
    </Box>
  );
}

function Minutes({ plan, planning }: { plan: Plan; planning: Planning }) {
  return (
    <Box>
      <Typography variant="h3" component="h2" sx={{ mb: 1 }}>Minutes, <Figure>{told(sum(plan.minutes))}</Figure> in
        all</Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(4, 1fr)", gap: 1, rowGap: 1.25 }}>
        {STEPS.map(({ key, label }) => (
          <Typed key={key} label={label} type="number" value={String(round(plan.minutes[key] ?? 0))}
            onDone={(v) => planning.plan({ minutes: { ...plan.minutes, [key]: Math.max(0, Number(v) || 0) } })} />
        ))}
      </Box>
      <Typography variant="body2" sx={{ mt: 0.5 }}>Or drag the seams between the steps on the tape.</Typography>
    </Box>
  );
}

function EstimateLine({ piece, plan, planning }: { piece: Piece; plan: Plan; planning: Planning }) {
  const { data: found, error } = useEstimate(piece.id);
  const { data: pieces = [] } = useQuery(piecesQuery);
  if (error) return <Typography variant="body2">It could not be estimated now.</Typography>;
  if (!found) return <Typography variant="body2" role="status">Counting areas, parts and gaps …</Typography>;
  const { low, likely, high } = found.total;
  const like = found.nearest.flatMap((id) => pieces.find((p) => p.id === id)?.title ?? []);
  const take = () => planning.plan({
    minutes: Object.fromEntries(STEPS.map(({ key }) => [key, round(found.steps[key]?.likely ?? 0)])),
    estimated: { low: round(low), likely: round(likely), high: round(high), count: found.count },
  });
  return (
    <Box component="section" aria-label="Estimate">
      <Typography variant="h3" component="h2">The drawing says <Figure>{told(low)}</Figure> to{" "}
        <Figure>{told(high)}</Figure></Typography>
      <Typography variant="body2">{found.words}{found.rests_on === "pieces" ? " Four times in five it lies within."
        : ""}{like.length > 0 && ` Most alike: ${like.join(", ")}.`}</Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "70px 1fr 64px", columnGap: 1, alignItems: "center", mt: 0.5 }}>
        {STEPS.map(({ key, label }) => {
          const one = found.steps[key];
          if (!one || one.high <= 0) return null;
          const most = Math.max(...Object.values(found.steps).map((s) => s.high), plan.minutes[key] ?? 0);
          const at = (m: number) => `${(100 * m) / most}%`;
          return [
            <Typography key={key} variant="body2">{label}</Typography>,
            <Box key={`${key} bar`} aria-hidden sx={{ position: "relative", height: 16 }}>
              <Box sx={{ position: "absolute", top: 6, height: 4, left: at(one.low), right:
                `${100 - (100 * one.high) / most}%`, bgcolor: "text.secondary" }} />
              <Box sx={{ position: "absolute", top: 2, height: 12, width: 3, left: at(one.likely),
                bgcolor: "text.primary" }} />
              <Box sx={{ position: "absolute", top: 0, bottom: 0, width: 0, left: at(plan.minutes[key] ?? 0),
                borderLeft: "2px dashed", borderColor: "primary.main" }} />
            </Box>,
            <Box key={`${key} n`} sx={{ textAlign: "right" }}><Figure size={12}>{Math.round(one.low)}–{Math.round(
              one.high)}</Figure></Box>,
          ];
        })}
      </Box>
      <Button size="small" sx={{ ml: -0.5 }} onClick={() => void take()}>Plan by it</Button>
    </Box>
  );
}

function LeaveOut({ plan, planning }: { plan: Plan; planning: Planning }) {
  const omissions = useMeta().data?.omissions ?? [];
  const order = plan.leave_out ?? [];
  const raise = (k: number) => {
    const next = [...order];
    const [one] = next.splice(k, 1);
    if (one) next.splice(k - 1, 0, one);
    void planning.plan({ leave_out: next });
  };
  const without = omissions.filter((o) => !order.includes(o.key as Plan["leave_out"][number]));
  return (
    <Box component="section" aria-label="What is left out first">
      <Typography variant="h3" component="h2">When it runs short, left out first</Typography>
      <Box component="ol" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {order.map((key, k) => (
          <Box component="li" key={key} sx={{ display: "flex", alignItems: "center", minHeight: 36 }}>
            <Figure>{k + 1}</Figure>
            <Typography sx={{ flex: 1, ml: 1 }}>{omissions.find((o) => o.key === key)?.label ?? key}</Typography>
            <Button size="small" color="inherit" disabled={k === 0} onClick={() => raise(k)}
              aria-label={`${key} earlier`}>Earlier</Button>
            <Button size="small" color="inherit" aria-label={`Never leave out ${key}`}
              onClick={() => void planning.plan({ leave_out: order.filter((o) => o !== key) })}>Never</Button>
          </Box>
        ))}
      </Box>
      {without.map((o) => <Button key={o.key} size="small" onClick={() => void planning.plan({ leave_out: [...order,
        o.key as Plan["leave_out"][number]] })}>{`${capital(o.label)} may be left out`}</Button>)}
    </Box>
  );
}

const round = (v: number) => Math.round(v * 10) / 10;
const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
