import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Popover from "@mui/material/Popover";
import { useState, type ReactNode } from "react";
import { Figure } from "../theme/Figure";
import { ColourPicker } from "./ColourPicker";

interface Props {
  label: string;
  value: string;
  onShow: (hex: string) => void;
  onMake: (hex: string) => void;
  onCancel: () => void;
  onPick?: () => void;
  /** Take the colour from another picture. */
  onReference?: () => void;
  /** The family of base colours to start from, if it is a base. */
  starters?: string;
  /** More that is said of the value where it is not seen. */
  said?: string;
  /** Above the picker. */
  head?: ReactNode;
  button?: Record<string, unknown>;
  /** What is clicked; a labelled swatch if not given. */
  children?: ReactNode;
}

/** A swatch that opens the picker. */
export function ColourField({ label, value, onShow, onMake, onCancel, onPick, onReference, starters, said, head, button,
  children }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const close = () => {
    setAnchor(null);
    onCancel();
  };
  return (
    <>
      <ButtonBase {...button} aria-label={`${label}: ${value}${said ? `, ${said}` : ""}. Change`} aria-haspopup="dialog"
        onClick={(e) => setAnchor(e.currentTarget)}
        sx={{ width: "100%", minHeight: 36, justifyContent: "flex-start", gap: 1.25, borderRadius: 1 }}>
        {children ?? (
          <>
            <Box sx={{ width: 56, height: 32, borderRadius: 1, bgcolor: value, border: 1, borderColor: "divider" }} />
            <span>{label}</span>
            <Figure>{value}</Figure>
          </>
        )}
      </ButtonBase>
      <Popover open={anchor !== null} anchorEl={anchor} onClose={close}
        slotProps={{ paper: { "aria-label": label, role: "dialog" } }}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
          transformOrigin={{ vertical: "top", horizontal: "left" }}>
        {head}
        <ColourPicker value={value} onShow={onShow} onMake={onMake} starters={starters}
          onPick={onPick && (() => { setAnchor(null); onPick(); })}
          onReference={onReference && (() => { setAnchor(null); onReference(); })} />
      </Popover>
    </>
  );
}
