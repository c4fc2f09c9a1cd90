import Box from "@mui/material/Box";
import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import Typography from "@mui/material/Typography";
import { useMeta } from "../../api/pieces";
import { Figure } from "../../theme/Figure";
import type { Wearing } from "./LooksStep";

const WEAK = 12; // L*: below, a figure hardly stands off its ground

/** How far looks are apart, how they stand on light and dark, and who can tell them apart. */
export function Apart({ wearing }: { wearing: Wearing }) {
  const { report, chosen, choose } = wearing;
  const visions = useMeta().data?.visions ?? [];
  if (!report) return null;
  const nameOf = (id: string | null | undefined) => report.looks.find((l) => l.id === id)?.name ?? "";
  const lines = report.looks.filter((l) => !l.retired);
  const number = (value: number | null | undefined, least: number) => (
    <Box component="span" sx={value != null && value < least ? { color: "primary.main", fontWeight: 700 }
      : undefined}><Figure>{value == null ? "–" : value.toFixed(1)}</Figure>{value != null && value < least ? " ▾"
        : ""}</Box>
  );
  if (lines.length < 2) return <Typography variant="body2">There is one look only. Dress another one,
    or let some be worked out under Vary.</Typography>;
  return (
    <>
      <Typography variant="body2">CIEDE2000 to the look that is nearest, weighted by area;
        below <Figure>{report.distinct}</Figure> (▾) two looks are hard to tell apart at a glance.</Typography>
      <Table size="small" aria-label="How far apart looks are" sx={{ mt: 1, "& td, & th": { px: 0.75 } }}>
        <TableHead>
          <TableRow><TableCell>Look</TableCell><TableCell
            align="right">apart</TableCell>{visions.map((v) => <TableCell key={v.key} align="right"
              title={`${v.label}, ${v.share}`}>{v.key}</TableCell>)}</TableRow>
        </TableHead>
        <TableBody>
          {lines.map((l) => (
            <TableRow key={l.id} hover selected={l.id === chosen} onClick={() => choose(l.id)}
              sx={{ cursor: "pointer" }}>
              <TableCell><b>{l.name}</b><Typography variant="body2"
                sx={{ fontSize: 12 }}>nearest: {nameOf(l.nearest)}</Typography></TableCell>
              <TableCell align="right">{number(l.apart, report.distinct)}</TableCell>
              {visions.map((v) => <TableCell key={v.key}
                align="right">{number(l.seen_with[v.key], report.distinct)}</TableCell>)}
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <Typography variant="body2" sx={{ mt: 1 }}>
        {visions.map((v) => `${v.key}: ${v.label}, ${v.share}`).join(". ")}. Simulated as Machado,
          Oliveira and Fernandes (2009) describe.
      </Typography>
      <Typography variant="h3" component="h2" sx={{ mt: 2 }}>On light and on dark ground</Typography>
      <Table size="small" aria-label="How looks stand on grounds" sx={{ "& td, & th": { px: 0.75 } }}>
        <TableHead><TableRow><TableCell>Look</TableCell><TableCell align="right">on light</TableCell><TableCell
          align="right">on dark</TableCell></TableRow></TableHead>
        <TableBody>
          {lines.map((l) => <TableRow key={l.id}><TableCell>{l.name}</TableCell><TableCell
            align="right">{number(l.on_light, WEAK)} L*</TableCell><TableCell
              align="right">{number(l.on_dark, WEAK)} L*</TableCell></TableRow>)}
        </TableBody>
      </Table>
      <Typography variant="body2" sx={{ mt: 0.75 }}>Mean difference of L* along the outline, against paper (L* 95) and
        against night (L* 15).</Typography>
    </>
  );
}
