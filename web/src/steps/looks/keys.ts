import { bindings } from "../../ui/keys";

export const LOOKS = bindings("Looks", {
  sides: ["t", "Dress, vary, apart, show in turn"],
  hang: ["v", "Rail, one, two beside each other"],
  before: ["[", "The part before"],
  after: ["]", "The part after"],
  nudge: [["l", "d", "w", "c", "r", "u"], "The chosen part lighter, darker, warmer, cooler, richer, duller"],
});
