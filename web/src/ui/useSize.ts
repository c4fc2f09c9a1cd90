import { useEffect, useState, type RefObject } from "react";

/** How much room an element has inside, css px; 0 until it is measured. */
export function useSize(of: RefObject<HTMLElement | null>): { width: number; height: number } {
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    if (!of.current) return;
    const watch = new ResizeObserver(([entry]) => {
      if (entry) setSize({ width: entry.contentRect.width, height: entry.contentRect.height });
    });
    watch.observe(of.current);
    return () => watch.disconnect();
  }, [of]);
  return size;
}
