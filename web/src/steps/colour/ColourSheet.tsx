import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Cut, Part, Schemas, SheetRow } from "../../api/client";
import { partPixels, partShare, percent } from "../../api/cut";
import { ColourField } from "../../colour/ColourField";
import { Figure } from "../../theme/Figure";
import type { FieldCalls } from "./WashControl";

interface Props {
  parts: Part[];
  sheet: SheetRow[] | undefined;
  cut: Cut | undefined;
  passes: Schemas["Passes"];
  field: (part: string) => FieldCalls;
}

const COLUMNS = "minmax(96px, 1.1fr) 1fr 1fr 1fr";

/** The grid in which colour is decided: parts as rows, passes as columns. */
export function ColourSheet({ parts, sheet, cut, passes, field }: Props) {
  if (parts.length === 0) {
    return <Typography variant="body2">There are no parts yet. Make some in the step Parts, then choose their colours here.</Typography>;
  }
  const pixels = partPixels(cut);
  const heads = [["Base", ""], ["Shade", `multiply ${Math.round(passes.shade.strength * 100)} %`], ["Light", `screen ${Math.round(passes.light.strength * 100)} %`]];
  return (
    <Box role="table" aria-label="Colours by part and pass">
      <Box role="row" sx={{ display: "grid", gridTemplateColumns: COLUMNS, gap: 0.75, mb: 0.5 }}>
        <span role="columnheader" aria-label="Part" />
        {heads.map(([name, rule]) => (
          <Box role="columnheader" key={name} sx={{ lineHeight: 1.2 }}>
            <Typography variant="h3" component="div">{name}</Typography>
            <Typography variant="body2" sx={{ fontSize: 11 }}>{rule}</Typography>
          </Box>
        ))}
      </Box>
      {parts.map((part) => {
        const row = sheet?.find((r) => r.part === part.id);
        const share = partShare(cut, pixels, part.id);
        return (
          <Box role="row" key={part.id} sx={{ display: "grid", gridTemplateColumns: COLUMNS, gap: 0.75, mb: 0.75, alignItems: "center" }}>
            <Box role="rowheader" sx={{ minWidth: 0, lineHeight: 1.25 }}>
              <Typography variant="h3" component="div" noWrap title={part.name}>{part.name}</Typography>
              <Typography variant="body2" noWrap sx={{ fontSize: 11.5 }}>
                {part.material}, <Figure size={11}>{percent(share)} %</Figure>
              </Typography>
            </Box>
            <Box role="cell">
              <ColourField label={`Base of ${part.name}`} value={part.base} starters={familyFor(part)} {...field(part.id)}>
                <Swatch colour={row?.base ?? part.base} note={row?.base ?? part.base} />
              </ColourField>
            </Box>
            <Box role="cell"><Swatch colour={row?.shade} step={row?.shade_step} /></Box>
            <Box role="cell"><Swatch colour={row?.light} step={row?.light_step} /></Box>
          </Box>
        );
      })}
    </Box>
  );
}

const FAMILIES = ["skin", "hair", "leather", "metal", "glass"];

/** The starters that a part is likely to want first. */
function familyFor({ name, material }: Part): string {
  if (/\blips?\b/i.test(name)) return "lips";
  return FAMILIES.includes(material) ? material : "cloth";
}

function Swatch({ colour, step, note }: { colour?: string; step?: number; note?: string }) {
  return (
    <Box title={colour} sx={{ position: "relative", width: "100%", height: 40, borderRadius: 1, bgcolor: colour, border: 1, borderColor: "divider" }}>
      {(step !== undefined || note) && (
        <Box sx={{ position: "absolute", right: 4, bottom: 3, px: 0.5, borderRadius: 0.5, bgcolor: "rgba(244,244,244,.88)", color: "#1b1b1b", lineHeight: 1.3 }}>
          <Figure size={11}>{note ?? step?.toFixed(0)}</Figure>
        </Box>
      )}
    </Box>
  );
}
