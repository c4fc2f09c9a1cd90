import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import type { Finding, Schemas } from "../../api/client";
import { Figure } from "../../theme/Figure";
import { Key } from "../../ui/Key";
import { CHECK } from "./keys";

type CheckInfo = Schemas["CheckInfo"];

interface Props {
  finding: Finding;
  check: CheckInfo | undefined;
  on: boolean;
  /** What would mend it is not known yet. */
  mending: boolean;
  dismissing: boolean;
  onChoose: () => void;
  onStep: (by: number) => void;
  onShow: () => void;
  onPreview: (on: boolean) => void;
  onRepair: () => void;
  onDismiss: (reason: string | null) => void;
  onAskWhy: () => void;
}

const SOURCES: Record<string, string> = { published: "published", "common practice": "common practice",
  own: "our own choice" };

/** One finding: what, by how much, why; and what can be done about it. */
export function FindingRow({ finding, check, on, mending, dismissing, onChoose, onStep, onShow, onPreview, onRepair,
  onDismiss, onAskWhy }: Props) {
  const row = useRef<HTMLLIElement>(null);
  useEffect(() => { if (on) row.current?.scrollIntoView({ block: "nearest" }); }, [on]);
  const gone = finding.dismissed;
  const looking = mending && !gone && check?.repairs && !finding.repair;
  const label = check?.label ?? finding.check;
  return (
    <Box component="li" ref={row} aria-current={on || undefined} data-testid="finding"
      sx={{ display: "grid", gridTemplateColumns: "4px 1fr", columnGap: 1, borderTop: 1, borderColor: "divider",
        bgcolor: on ? "action.hover" : undefined }}>
      <Box aria-hidden sx={{ my: 0.75, borderRadius: 1, bgcolor: gone ? "divider" : "primary.main",
        opacity: gone ? 1 : 0.2 + 0.8 * finding.weight }} />
      <Box sx={{ minWidth: 0, py: 0.75, pr: 0.5 }}>
        <Box component="button" type="button" onClick={onChoose} onFocus={onChoose}
          onKeyDown={(e) => {
            const by = e.key === "ArrowDown" ? 1 : e.key === "ArrowUp" ? -1 : 0;
            if (!by) return;
            e.preventDefault();
            e.stopPropagation();
            onStep(by);
          }}
          sx={{ display: "block", width: "100%", minHeight: 36, p: 0, border: 0, bgcolor: "transparent",
            color: "inherit", font: "inherit", textAlign: "left", cursor: "pointer", opacity: gone ? 0.72 : 1,
            "&:focus-visible": { outline: "2px dashed", outlineColor: "primary.main", outlineOffset: 2 } }}>
          <Box component="span" sx={{ display: "block", fontWeight: 640, fontSize: 13.5 }}>{label}</Box>
          <Typography variant="body2" component="span" sx={{ display: "block" }}>{finding.words}</Typography>
        </Box>
        {gone && <Typography variant="body2" sx={{ fontStyle: "italic" }}>Left as it is{gone.reason
          ? `: ${gone.reason}` : "."}</Typography>}
        {on && check && (
          <Typography variant="body2" sx={{ mt: 0.5 }}>
            {check.why} <Box component="span" sx={{ whiteSpace: "nowrap" }}>From <Figure size={12}>{limitOf(check)}
            </Figure> on</Box> ({SOURCES[check.limit.source]}{check.limit.source === "common practice"
              && check.limit.basis.startsWith("common practice") ? "" : `: ${check.limit.basis}`}).
          </Typography>
        )}
        {(on || finding.repair || looking) && (
          <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 0.5, ml: -1, mt: 0.25 }}>
            {looking && <Button size="small" disabled>Looking for a repair …</Button>}
            {finding.repair && !gone && (
              <Button size="small" onPointerEnter={() => onPreview(true)} onPointerLeave={() => onPreview(false)}
                onFocus={() => onPreview(true)} onBlur={() => onPreview(false)} onClick={onRepair}>
                {finding.repair.label}{on && <Key of={CHECK.repair} />}
              </Button>
            )}
            {on && (finding.box ?? finding.marks.length > 0) && <Button size="small" color="inherit" onClick={onShow}>
              Show<Key of={CHECK.show} /></Button>}
            {on && <Button size="small" color="inherit" onClick={() => (gone ? onDismiss(null) : onAskWhy())}>
              {gone ? "Let it count again" : "Leave it"}<Key of={CHECK.dismiss} /></Button>}
          </Box>
        )}
        {on && dismissing && !gone && <Reason onGive={onDismiss} onCancel={onAskWhy} />}
      </Box>
    </Box>
  );
}

const REASONS = ["It is meant so", "It does not matter here", "It is for later"];

/** Why it is left: a word is enough, none will do. */
function Reason({ onGive, onCancel }: { onGive: (reason: string) => void; onCancel: () => void }) {
  const [text, setText] = useState("");
  return (
    <Box component="form" aria-label="Why it is left" onSubmit={(e: React.FormEvent) => { e.preventDefault();
      onGive(text.trim()); }} onKeyDown={(e) => { if (e.key === "Escape") { e.stopPropagation(); onCancel(); } }}>
      <Box sx={{ display: "flex", flexWrap: "wrap", ml: -1 }}>
        {REASONS.map((r) => <Button key={r} size="small" color="inherit" onClick={() => onGive(r)}>{r}</Button>)}
      </Box>
      <Box sx={{ display: "flex", gap: 1, mt: 0.5, mb: 0.5 }}>
        <TextField autoFocus fullWidth value={text} onChange={(e) => setText(e.target.value)} placeholder="Or why …"
          slotProps={{ htmlInput: { "aria-label": "Reason", maxLength: 500 } }} />
        <Button type="submit" variant="outlined">Leave it</Button>
      </Box>
    </Box>
  );
}

function limitOf({ limit: { value, unit } }: CheckInfo): string {
  const figure = value === 0 ? "the first" : value.toLocaleString("en", { maximumFractionDigits: 2 });
  return unit.startsWith("%") || unit === "°" ? `${figure} ${unit}`.replace(" °", "°") : `${figure} ${unit}`;
}
