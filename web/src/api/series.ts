import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, exactly, need, toProblem, type JobState, type Schemas } from "./client";
import { cancel, follow } from "./jobs";
import { tellProblem } from "./notice";

export type Series = Schemas["Series"];
export type SeriesMember = Schemas["SeriesMember"];
export type SeriesPlace = Schemas["SeriesPlace"];
export type SeriesEdit = Schemas["SeriesEdit"];
export type Shared = Series["shared"];
export type What = SeriesMember["own"][number];
export type Drift = Schemas["Drift"];
export type PageSheet = Schemas["Page"];
export type SeriesCard = Schemas["SeriesCard"];

const ofSeries = (id: number) => ({ params: { path: { series_id: id } } });
const ofPage = (id: number) => ({ params: { path: { page_id: id } } });
export const seriesKey = (id: number) => ["series", id];

export function useSeriesList() {
  return useQuery({ queryKey: ["series"], queryFn: () => exactly<"/api/series", "get">(api.GET("/api/series")) });
}

export function useSeries(id: number) {
  return useQuery({ queryKey: seriesKey(id), placeholderData: keepPreviousData,
    queryFn: () => exactly<"/api/series/{series_id}", "get">(api.GET("/api/series/{series_id}", ofSeries(id))) });
}

/** Where a piece is in its series; null if it is in none. */
export function usePlace(piece: number, revision: number) {
  const client = useQueryClient();
  return useQuery({ queryKey: ["place", piece, revision], placeholderData: keepPreviousData,
    queryFn: () => {
      // A piece that is in no series stays in none while it is edited.
      const known = client.getQueriesData<SeriesPlace | null>({ queryKey: ["place", piece] });
      if (known.some(([key, place]) => place === null && key[2] !== revision)) return null;
      return need(api.GET("/api/pieces/{piece_id}/place", { params: { path: { piece_id: piece } } })) as
        Promise<SeriesPlace | null>;
    } });
}

export function useDrift(id: number, wanted: boolean) {
  return useQuery({ queryKey: [...seriesKey(id), "drift"], enabled: wanted,
    queryFn: () => exactly<"/api/series/{series_id}/drift", "get">(api.GET("/api/series/{series_id}/drift",
      ofSeries(id))) });
}

export function usePage(id: number) {
  return useQuery({ queryKey: ["page", id],
    queryFn: () => exactly<"/api/pages/{page_id}", "get">(api.GET("/api/pages/{page_id}", ofPage(id))) });
}

/** Posts a form with several files; the answer is a job. */
async function post(address: string, fields: [string, string | File][]): Promise<JobState> {
  const form = new FormData();
  for (const [name, value] of fields) form.append(name, value);
  const response = await fetch(address, { method: "POST", body: form }).catch((error: unknown) => {
    throw toProblem(error);
  });
  const body: unknown = await response.json().catch(() => null);
  if (!response.ok) throw toProblem(body, response.status);
  return body as JobState;
}

const [PORTION_FILES, PORTION_BYTES] = [24, 40e6];

/** Files by their names, in portions that are sent at a time. */
export function portions(files: readonly File[]): File[][] {
  const found: File[][] = [];
  let bytes = Infinity;
  for (const file of [...files].sort((a, b) => a.name.localeCompare(b.name))) {
    const last = found.at(-1);
    if (!last || last.length >= PORTION_FILES || bytes + file.size > PORTION_BYTES) {
      found.push([file]);
      bytes = file.size;
    } else {
      last.push(file);
      bytes += file.size;
    }
  }
  return found;
}

/** What can be done with a series; long work shows how far it is in `job`. */
export function useSeriesWork(id: number) {
  const client = useQueryClient();
  const [job, setJob] = useState<JobState | null>(null);
  const refresh = () => Promise.all([client.invalidateQueries({ queryKey: ["series"] }),
    client.invalidateQueries({ queryKey: ["pieces"] }), client.invalidateQueries({ queryKey: ["place"] }),
    client.resetQueries({ queryKey: ["place"], predicate: (q) => q.state.data === null })]);
  const run = async (started: Promise<JobState>, download = false): Promise<JobState | null> => {
    try {
      const done = await follow(await started, setJob);
      if (done.state === "done" && done.problem) tellProblem(toProblem(done.problem)); // of some, not of all
      if (download && done.state === "done") {
        const link = document.createElement("a");
        link.href = `/api/jobs/${done.id}/file`;
        link.download = done.file_name ?? "";
        link.click();
      }
      return done;
    } catch (error) {
      tellProblem(error);
      return null;
    } finally {
      setJob(null);
      await refresh();
    }
  };
  const quick = async (asked: Promise<Series>): Promise<void> => {
    try {
      client.setQueryData(seriesKey(id), await asked);
      await refresh();
    } catch (error) {
      tellProblem(error);
    }
  };
  const job202 = <T,>(asked: Promise<{ data?: T; error?: unknown; response: Response }>) =>
    need(asked) as Promise<unknown> as Promise<JobState>;
  return {
    job,
    stop: () => { if (job) void cancel(job); },
    refresh,
    bring: async (files: File[], scene: string) => {
      for (const some of portions(files)) {
        const done = await run(post(`/api/series/${id}/drawings`, [...some.map((f): [string, File] => ["files", f]),
          ["scene", scene]]));
        if (done?.state !== "done") return;
      }
    },
    bringPage: (file: File) => run(post(`/api/series/${id}/pages`, [["file", file],
      ["title", file.name.replace(/\.[^.]+$/, "").replace(/[_-]+/g, " ").slice(0, 110) || "Page"]])),
    carry: (pieces: number[] = []) => run(job202(api.POST("/api/series/{series_id}/carry",
      { ...ofSeries(id), body: { pieces } }))),
    lookOver: (pieces: number[] = []) => run(job202(api.POST("/api/series/{series_id}/look-over",
      { ...ofSeries(id), body: { pieces } }))),
    share: (shared: Shared) => run(job202(api.PUT("/api/series/{series_id}/shared",
      { ...ofSeries(id), body: { shared } }))),
    shareFrom: (piece: number, what: What[]) => run(job202(api.POST("/api/series/{series_id}/share-from",
      { ...ofSeries(id), body: { piece, what } }))),
    followAgain: (pieces: number[], what: What[]) => run(job202(api.POST("/api/series/{series_id}/follow",
      { ...ofSeries(id), body: { pieces, what } }))),
    change: (edit: SeriesEdit) => run(job202(api.POST("/api/series/{series_id}/edits",
      { ...ofSeries(id), body: edit }))),
    write: (body: Schemas["SeriesFile"]) => run(job202(api.POST("/api/series/{series_id}/deliveries",
      { ...ofSeries(id), body })), true),
    batch: (body: Schemas["BatchRequest"]) => run(job202(api.POST("/api/series/{series_id}/batches",
      { ...ofSeries(id), body })), body.stages.includes("deliver")),
    writePage: (page: number, format: Schemas["PageFile"]["format"]) => run(job202(api.POST(
      "/api/pages/{page_id}/deliveries", { ...ofPage(page), body: { format } })), true),
    beginPanels: (page: number) => run(job202(api.POST("/api/pages/{page_id}/panels", ofPage(page)))),
    rename: (title: string) => quick(need(api.PATCH("/api/series/{series_id}", { ...ofSeries(id),
      body: { title } })) as unknown as Promise<Series>),
    arrange: (pieces: number[]) => quick(need(api.PUT("/api/series/{series_id}/order", { ...ofSeries(id),
      body: { pieces } })) as unknown as Promise<Series>),
    place: async (piece: number, change: Schemas["PlaceChange"]) => {
      try {
        await need(api.PATCH("/api/pieces/{piece_id}/place", { params: { path: { piece_id: piece } }, body: change }));
      } catch (error) {
        tellProblem(error);
      }
      await refresh();
    },
  };
}

export function useNewSeries() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["NewSeries"]) => need(api.POST("/api/series", { body })) as unknown as Promise<Series>,
    onSuccess: () => client.invalidateQueries({ queryKey: ["series"] }), onError: tellProblem,
  });
}

/** Corrects the sheet of a page. */
export function useSheet(id: number) {
  const client = useQueryClient();
  return async (page: PageSheet, sheet: PageSheet["sheet"]): Promise<boolean> => {
    try {
      client.setQueryData(["page", id], await need(api.PUT("/api/pages/{page_id}/sheet", { ...ofPage(id),
        body: { seen: page.revision, sheet } })));
      await client.invalidateQueries({ queryKey: ["series"] });
      return true;
    } catch (error) {
      tellProblem(error);
      await client.invalidateQueries({ queryKey: ["page", id] });
      return false;
    }
  };
}
