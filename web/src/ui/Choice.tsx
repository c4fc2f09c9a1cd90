import Box from "@mui/material/Box";
import ToggleButton from "@mui/material/ToggleButton";
import type { SxProps } from "@mui/material/styles";
import { useEffect, useRef, useState, type ReactNode } from "react";
import { Key } from "./Key";
import type { Binding } from "./keys";
import { useKeys } from "./useKeys";

export interface Option<T> {
  value: T;
  label: ReactNode;
  /** The key that chooses it: the binding, and which of its keys where it has several. */
  keyed?: Binding;
  only?: string;
  off?: boolean;
}

interface Props<T> {
  label: string;
  value: T | null;
  options: readonly Option<T>[];
  onChange: (value: T) => void;
  /** All of the bench's width, in equal shares; a number is how many stand in a row. */
  wide?: boolean | number;
  sx?: SxProps;
}

const STEPS: Record<string, number> = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 };
const ROLES = { radio: ["radiogroup", "radio", "aria-checked"], tab: ["tablist", "tab", "aria-selected"] } as const;

function OneOf<T extends string | number | boolean>({ label, value, options, onChange, wide = false, sx, as }:
  Props<T> & { as: keyof typeof ROLES }) {
  const [group, role, state] = ROLES[as];
  const first = options.find((o) => o.value === value) ?? options.find((o) => !o.off);
  const onKeyDown = (e: React.KeyboardEvent<HTMLElement>) => {
    const by = STEPS[e.key];
    if (!by || e.altKey || e.ctrlKey || e.metaKey) return;
    const open = options.filter((o) => !o.off);
    const next = open[(open.findIndex((o) => o.value === (value ?? first?.value)) + by + open.length) % open.length];
    e.preventDefault();
    e.stopPropagation();
    if (!next) return;
    onChange(next.value);
    e.currentTarget.querySelectorAll<HTMLElement>(`[role=${role}]`)[options.indexOf(next)]?.focus();
  };
  const columns = wide === true ? options.length : wide;
  return (
    <Box role={group} aria-label={label} onKeyDown={onKeyDown}
      sx={[columns ? { display: "grid", gridTemplateColumns:
        `repeat(${columns}, ${wide === true ? "auto" : "minmax(0, 1fr)"})` } : { display: "flex", flexWrap: "wrap" },
        { flexShrink: 0, gap: typeof wide === "number" ? 0.75 : "4px" }, ...(Array.isArray(sx) ? sx
          : [sx])] as SxProps}>
      {options.map((o) => (
        <ToggleButton key={String(o.value)} size="small" value={o.value} selected={o.value === value} disabled={o.off}
          role={role} aria-pressed={undefined} {...{ [state]: o.value === value }} tabIndex={o === first ? 0 : -1}
          onClick={() => onChange(o.value)}
          sx={{ px: columns ? 0.5 : 1.5, lineHeight: 1.25,
            whiteSpace: typeof wide === "number" ? "normal" : "nowrap" }}>
          {o.label}{o.keyed && <Key of={o.keyed} only={o.only} />}
        </ToggleButton>
      ))}
    </Box>
  );
}

/** One of several, all of them seen. */
export function Choice<T extends string | number | boolean>(props: Props<T>) {
  return <OneOf {...props} as="radio" />;
}

/** The sides of a bench, and the one that is turned to; a key goes through them in turn. */
export function useSides<S extends Record<string, string>>(sides: S, turn: Binding, start: keyof S & string):
  [keyof S & string, ReactNode, (side: keyof S & string) => void] {
  type T = keyof S & string;
  const names = Object.keys(sides) as T[];
  const [side, setSide] = useState<T>(() => names.find((name) => `#${name}` === location.hash) ?? start);
  const held = useRef(false);
  useEffect(() => {
    // The sides belong to different screens: the tab that was used is another element now.
    if (held.current) document.querySelector<HTMLElement>("[role=tab][aria-selected=true]")?.focus();
    held.current = false;
  }, [side]);
  useKeys(turn, () => setSide((s) => names[(names.indexOf(s) + 1) % names.length] ?? start));
  const options = names.map((name) => ({ value: name, label: sides[name],
    ...(name === names[(names.indexOf(side) + 1) % names.length] && { keyed: turn }) }));
  return [side, <OneOf key="sides" as="tab" label="What to work on" wide value={side} options={options}
    onChange={(to) => { held.current = true; setSide(to); }} sx={{ mb: 1.5 }} />, setSide];
}
