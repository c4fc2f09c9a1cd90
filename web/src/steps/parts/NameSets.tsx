import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Divider from "@mui/material/Divider";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, need, type Edit, type NamedPart, type Part } from "../../api/client";
import { tell, tellProblem } from "../../api/notice";
import { useMeta } from "../../api/pieces";

/** Sets of names to start from: those that ship, and those that were kept from other pieces. */
export function NameSets({ parts, edit }: { parts: Part[]; edit: (edit: Edit) => Promise<unknown> }) {
  const shipped = useMeta().data?.name_sets ?? {};
  const client = useQueryClient();
  const { data: saved = [] } = useQuery({ queryKey: ["name-sets"], queryFn: () => need(api.GET("/api/name-sets")) });
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [saving, setSaving] = useState<string | null>(null);
  const add = (names: NamedPart[]) => {
    setAnchor(null);
    void edit({ kind: "add_parts", parts: names });
  };
  const change = async (send: () => Promise<unknown>) => {
    try {
      await send();
    } catch (error) {
      tellProblem(error);
    }
    await client.invalidateQueries({ queryKey: ["name-sets"] });
  };
  const save = () => {
    const name = saving?.trim();
    setSaving(null);
    if (!name) return;
    const byId = new Map(parts.map((p) => [p.id, p.name]));
    const names = parts.map((p) => ({ name: p.name, material: p.material, base: p.base, parent: p.parent
      ? (byId.get(p.parent) ?? null) : null }));
    void change(() => need(api.POST("/api/name-sets", {
      body: { name, parts: names } }))).then(() => tell(`The names are kept as “${name}”.`));
  };
  return (
    <>
      <Button variant="outlined" aria-haspopup="menu" onClick={(e) => setAnchor(e.currentTarget)}>Sets of names</Button>
      <Menu disablePortal anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {Object.entries(shipped).map(([name, names]) => (
          <MenuItem key={name} onClick={() => add(names)}>Add names for a {name}: {names.length}</MenuItem>
        ))}
        {saved.length > 0 && <Divider />}
        {saved.map((set) => (
          <MenuItem key={set.id} sx={{ display: "flex", gap: 2 }} onClick={() => add(set.parts)}>
            <span style={{ flex: 1 }}>Add “{set.name}”: {set.parts.length}</span>
            <Button size="small" color="inherit" aria-label={`Forget the set ${set.name}`}
              onClick={(e) => { e.stopPropagation();
                void change(() => need(api.DELETE("/api/name-sets/{set_id}", {
                  params: { path: { set_id: set.id } } }))); }}>Forget</Button>
          </MenuItem>
        ))}
        <Divider />
        <MenuItem disabled={parts.length === 0} onClick={() => { setAnchor(null); setSaving(""); }}>Keep these
          names as a set …</MenuItem>
      </Menu>
      <Dialog open={saving !== null} onClose={() => setSaving(null)} maxWidth="xs" fullWidth>
        <form onSubmit={(e) => { e.preventDefault(); save(); }}>
          <DialogTitle>Keep {parts.length} names as a set</DialogTitle>
          <DialogContent sx={{ overflow: "visible" }}>
            <TextField autoFocus fullWidth label="Name of the set" value={saving ?? ""}
              onChange={(e) => setSaving(e.target.value)} slotProps={{ htmlInput: { maxLength: 120 } }} />
          </DialogContent>
          <DialogActions sx={{ px: 3, pb: 2 }}>
            <Button color="inherit" onClick={() => setSaving(null)}>Cancel</Button>
            <Button type="submit" variant="contained" disabled={!saving?.trim()}>Keep</Button>
          </DialogActions>
        </form>
      </Dialog>
    </>
  );
}
