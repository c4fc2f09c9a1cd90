import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useInfiniteQuery } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useMemo, useRef } from "react";
import { Link } from "react-router";
import { api, need, toProblem } from "../api/client";
import { asQuery, type LogLine, type LogWish } from "../api/time";
import { told } from "../clock/words";
import { Figure } from "../theme/Figure";

const [PAGE, ROW, DAY] = [120, 34, 46];

type Row = { day: string } | { line: LogLine };

/** Lines with a heading for each day, in the reader's zone. */
export function byDay(lines: readonly LogLine[]): Row[] {
  const rows: Row[] = [];
  let last = "";
  for (const line of lines) {
    const at = new Date(line.at);
    const day = at.toLocaleDateString(undefined, { weekday: "long", year: "numeric", month: "long", day: "numeric" });
    if (day !== last) rows.push({ day });
    last = day;
    rows.push({ line });
  }
  return rows;
}

/** The log, as far as it has been scrolled. */
export function LogLines({ wish }: { wish: LogWish }) {
  const query = asQuery(wish);
  const { data, error, fetchNextPage, hasNextPage, isFetching } = useInfiniteQuery({
    queryKey: ["log", query], initialPageParam: null as string | null,
    queryFn: ({ pageParam }) => need(api.GET("/api/log", { params: { query: { ...query, most: PAGE,
      ...(pageParam && { before: pageParam }) } } })),
    getNextPageParam: (last) => last.more,
  });
  const rows = useMemo(() => byDay((data?.pages ?? []).flatMap((p) => p.lines as LogLine[])), [data]);
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- its functions are not handed on
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => scroller.current, overscan: 12,
    estimateSize: (k) => { const row = rows[k]; return row && "day" in row ? DAY : ROW; } });
  const items = virtual.getVirtualItems();
  const end = items.at(-1)?.index ?? 0;
  useEffect(() => {
    if (end >= rows.length - 20 && hasNextPage && !isFetching) void fetchNextPage();
  }, [end, rows.length, hasNextPage, isFetching, fetchNextPage]);
  return (
    <Box ref={scroller} component="main" tabIndex={0} aria-label="Log" sx={{ flex: 1, overflowY: "auto",
      minHeight: 0 }}>
      {error && <Typography role="alert" sx={{ px: 4 }}>{toProblem(error).message}</Typography>}
      {data && rows.length === 0 && <Typography variant="body1" sx={{ textAlign: "center", py: 8 }}>Nothing like that
        has happened.</Typography>}
      <Box sx={{ position: "relative", height: virtual.getTotalSize(), maxWidth: 1280, mx: "auto" }}>
        {items.map(({ index, start, size }) => {
          const row = rows[index];
          return row && (
            <Box key={index} sx={{ position: "absolute", top: start, left: 32, right: 32, height: size }}>
              {"day" in row ? <Typography variant="h3" component="h2" sx={{ pt: 2 }}>{row.day}</Typography>
                : <Line line={row.line} />}
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}

function Line({ line }: { line: LogLine }) {
  const at = new Date(line.at);
  const time = `${String(at.getHours()).padStart(2, "0")}:${String(at.getMinutes()).padStart(2, "0")}`;
  return (
    <Box data-testid="log-line" sx={{ display: "grid", gridTemplateColumns: "64px minmax(120px, 240px) 1fr auto",
      columnGap: 2, alignItems: "center", height: "100%", borderTop: 1, borderColor: "divider" }}>
      <Figure>{time}</Figure>
      <Typography noWrap component={Link} to={`/piece/${line.piece}`} sx={{ color: "text.primary" }}>{line.title}
        </Typography>
      <Typography noWrap title={line.words} sx={{ color: line.kind === "edit" ? "text.secondary"
        : "text.primary" }}>{line.words}</Typography>
      {line.minutes != null && <Figure>{told(line.minutes)}</Figure>}
    </Box>
  );
}
