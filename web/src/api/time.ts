import { useQuery, useQueryClient, keepPreviousData } from "@tanstack/react-query";
import { api, exactly, need, type Schemas, type Step } from "./client";
import { firstOr } from "./first";
import { tellProblem } from "./notice";

export type ClockState = Schemas["ClockState"];
export type Plan = Schemas["Plan"];
export type SittingLine = Schemas["SittingLine"];
export type Estimate = Schemas["Estimate"];
export type LogLine = Schemas["LogLine"];
export type KeptPlan = Schemas["KeptPlan"];

const path = (piece: number) => ({ params: { path: { piece_id: piece } } });
export const clockKey = (piece: number) => ["clock", piece];

/** How the work on a piece stands against its plan. */
export function useClock(piece: number) {
  return useQuery({
    queryKey: clockKey(piece), staleTime: Infinity,
    queryFn: () => exactly<"/api/pieces/{piece_id}/clock", "get">(api.GET("/api/pieces/{piece_id}/clock",
      path(piece))),
  });
}

/** How long the drawing will take; asked for where it is looked at. */
export function useEstimate(piece: number) {
  return useQuery({
    queryKey: ["estimate", piece], retry: false,
    queryFn: () => exactly<"/api/pieces/{piece_id}/estimate", "get">(api.GET("/api/pieces/{piece_id}/estimate",
      path(piece))),
  });
}

export function usePlans() {
  return useQuery({ queryKey: ["plans"], queryFn: () => need(api.GET("/api/plans")), staleTime: Infinity });
}

/** The time that was given to a piece; and to add to it or to say how long it really was. */
export function useSittings(piece: number) {
  const client = useQueryClient();
  const key = ["sittings", piece];
  const { data: sittings } = useQuery({
    queryKey: key,
    queryFn: () => exactly<"/api/pieces/{piece_id}/sittings", "get">(api.GET("/api/pieces/{piece_id}/sittings",
      path(piece))),
  });
  const put = async (asked: Promise<SittingLine[]>): Promise<boolean> => {
    try {
      client.setQueryData(key, await asked);
      void client.invalidateQueries({ queryKey: clockKey(piece) });
      return true;
    } catch (error) {
      tellProblem(error);
      return false;
    }
  };
  return {
    sittings,
    add: (step: Step, minutes: number, note: string) => put(need(api.POST("/api/pieces/{piece_id}/sittings",
      { ...path(piece), body: { step, minutes, note } }))),
    correct: (sitting: number, minutes: number, note: string) => put(need(api.POST(
      "/api/sittings/{sitting_id}/corrections", { params: { path: { sitting_id: sitting } },
        body: { minutes, note } }))),
  };
}

export interface LogWish {
  piece: number | null;
  character: number | null;
  month: string | null;
  text: string;
}

/** A wish as a query: what is not wished for is left out. */
export function asQuery({ piece, character, month, text }: LogWish) {
  return { ...(piece !== null && { piece }), ...(character !== null && { character }), ...(month && { month }),
    ...(text.trim() && { text: text.trim() }) };
}

export function useFigures(wish: LogWish) {
  const query = asQuery({ ...wish, text: "" });
  return useQuery({ queryKey: ["figures", query], placeholderData: keepPreviousData,
    queryFn: () => exactly<"/api/figures", "get">(api.GET("/api/figures", { params: { query } })) });
}

/** What is next, and what fits so many minutes. */
export const todayQuery = (minutes: number) => ({
  queryKey: ["today", minutes], staleTime: 1000,
  queryFn: () => firstOr(`/api/today?minutes=${minutes}`,
    () => need(api.GET("/api/today", { params: { query: { minutes } } }))),
});

export const useToday = (minutes: number) => useQuery({ ...todayQuery(minutes), placeholderData: keepPreviousData });
