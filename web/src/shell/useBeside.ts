import { create } from "zustand";
import { persist } from "zustand/middleware";

/** Whether references stand beside the canvas; kept from step to step and over a reload. */
export const useBeside = create<{ beside: boolean; toggle: () => void }>()(
  persist((set) => ({ beside: false, toggle: () => set((s) => ({ beside: !s.beside })) }),
    { name: "wardrobe-references" }),
);
