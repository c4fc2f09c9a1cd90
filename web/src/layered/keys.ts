import { bindings } from "../ui/keys";

export const LAYERED = bindings("A layered file", {
  sides: ["t", "In order, stack, take over in turn"],
});
