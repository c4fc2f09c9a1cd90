import type { Edit, Piece } from "../../api/client";

/** Edits that are shown before they are made. */
export interface Live {
  show: (edit: Edit) => void;
  make: (edit: Edit) => Promise<Piece | null>;
  drop: () => void;
}

/** What a colour field needs to show, make and pick colours. */
export interface FieldCalls {
  onShow: (hex: string) => void;
  onMake: (hex: string) => void;
  onCancel: () => void;
  onPick: () => void;
  onReference: () => void;
}
