import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import FormControlLabel from "@mui/material/FormControlLabel";
import Popover, { type PopoverActions } from "@mui/material/Popover";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import { useCallback, useLayoutEffect, useRef, useState } from "react";
import type { Edit, PassKey, Piece, SheetColumn } from "../../api/client";
import { useMeta } from "../../api/pieces";
import { Figure } from "../../theme/Figure";
import type { FieldCalls, Live } from "./live";
import { Laying } from "./Laying";
import { Amount, WashControl, type WashKey } from "./WashControl";

interface Props {
  piece: Piece;
  column: SheetColumn;
  live: Live;
  field: (edit: (hex: string) => Edit) => FieldCalls;
}

/** A pass: its blend mode and opacity as delivered; behind it, its rule. */
export function ColumnHead({ piece, column, live, field }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const popover = useRef<PopoverActions>(null);
  const grown = useCallback(() => popover.current?.updatePosition(), []);
  const rule = column.on ? `${column.mode}${column.opacity != null ? ` ${Math.round(100 * column.opacity)} %` : ""}`
    : "off";
  const text = (
    <>
      <Typography variant="h3" component="div" sx={{ fontSize: 13, lineHeight: 1.15 }}>{column.label}</Typography>{" "}
      <Box component="span" sx={{ display: "block", fontSize: 11, lineHeight: 1.15,
        color: "text.secondary" }}>{column.on ? column.mode : "off"}{" "}<br />{column.on && column.opacity != null ?
          <Figure size={11}>{Math.round(100 * column.opacity)} %</Figure> : "\u00a0"}</Box>
    </>
  );
  if (column.name === "base") return <Box role="columnheader" sx={{ minHeight: 36, alignSelf: "end" }}>{text}</Box>;
  return (
    <Box role="columnheader" sx={{ minWidth: 0 }}>
      <ButtonBase aria-label={`${column.label}: ${rule}. Change the rule`} aria-haspopup="dialog"
        onClick={(e) => setAnchor(e.currentTarget)}
        sx={{ display: "block", width: "100%", minHeight: 36, textAlign: "left", borderRadius: 1, opacity: column.on ? 1
          : 0.65, borderBottom: "2px dashed", borderColor: column.on ? "primary.main" : "divider" }}>
        <span aria-hidden>{text}</span>
      </ButtonBase>
      <Popover action={popover} open={anchor !== null} anchorEl={anchor}
        onClose={() => { setAnchor(null); live.drop(); }}
        slotProps={{ paper: { role: "dialog", "aria-label": `Rule of ${column.label}` } }}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}>
        <Rule piece={piece} column={column} live={live} field={field} onGrown={grown} />
      </Popover>
    </Box>
  );
}

/** The few settings of a pass. */
export function Rule({ piece, column, live, field, onGrown }: Props & { onGrown?: () => void }) {
  const [comparing, setComparing] = useState(false);
  useLayoutEffect(() => onGrown?.(), [comparing, onGrown]);
  const { passes } = piece.recipe;
  const amounts = useMeta().data?.amounts ?? [];
  const off = passes.off ?? [];
  const toggle = () => void
    live.make({ kind: "set_passes", passes: { ...passes, off: column.on ? [...off, column.name as PassKey]
      : off.filter((k) => k !== column.name) } });
  return (
    <Box sx={{ width: comparing ? 480 : 320, p: 2 }}>
      <Box sx={{ display: "flex", alignItems: "center", justifyContent: "space-between", mb: 1 }}>
        <Typography variant="h3">{column.label}</Typography>
        <FormControlLabel labelPlacement="start" label={column.on ? "on" : "off"}
          control={<Switch checked={column.on} onChange={toggle} />} />
      </Box>
      {column.wash && <WashControl name={column.wash as WashKey} title={column.label} mode={column.mode} passes={passes}
        live={live} field={field} />}
      {column.settings.map((name) => {
        const setting = amounts.find((a) => a.name === name);
        return setting && <Amount key={name} setting={setting} passes={passes} live={live} />;
      })}
      <Laying column={column} piece={piece} live={live} comparing={comparing} onCompare={setComparing} />
      {!column.wash && column.settings.length === 0 && (
        <Typography variant="body2">{column.lamp ? "Its colour and strength are set in the step Light."
          : "Follows the passes beside it."}</Typography>
      )}
      <Typography variant="body2" sx={{ mt: 1 }}>Delivered as a layer on <Figure
        size={12}>{column.mode}</Figure>{column.opacity != null && <> at <Figure
          size={12}>{Math.round(100 * column.opacity)} %</Figure></>}.</Typography>
    </Box>
  );
}
