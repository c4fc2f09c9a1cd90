import { useQuery } from "@tanstack/react-query";
import { api, exactly, need, type Point, type Schemas } from "./client";

export type Course = Schemas["Course"];
export type SkillCard = Schemas["SkillCard"];
export type Lesson = Schemas["LessonGiven"];
export type LessonKey = Lesson["key"];
export type LessonResult = Schemas["LessonResult"];
export type Lamp = Schemas["Lamp"];

export interface LessonStroke {
  points: Point[];
  /** Of the pen, px; empty for an outline. */
  widths: number[];
  erases: boolean;
}

export type LessonAnswer = { strokes: LessonStroke[] } | { light: Lamp } | { colour: string } | { order: number[] } |
  { choice: number };

export const COURSE = ["course"];

export function useCourse() {
  return useQuery({ queryKey: COURSE, queryFn: () => need(api.GET("/api/learn/course")) });
}

/** A lesson made anew; or the one of a level and a seed. */
export function fetchLesson(key: LessonKey, level?: number, seed?: number): Promise<Lesson> {
  return exactly<"/api/learn/lessons/{key}", "get">(api.GET("/api/learn/lessons/{key}", {
    params: { path: { key }, query: { level, seed } } }));
}

export function answerLesson({ key, level, seed }: Lesson, answer: LessonAnswer): Promise<LessonResult> {
  const body = "strokes" in answer ? { strokes: answer.strokes.map(({ points, widths, erases }) =>
    ({ stroke: { points, widths }, erases })) } : answer;
  return exactly<"/api/learn/lessons/{key}/{level}/{seed}/answers", "post">(api.POST(
    "/api/learn/lessons/{key}/{level}/{seed}/answers", { params: { path: { key, level, seed } }, body }));
}

export const lessonAt = ({ key, level, seed }: Lesson, which: "given" | "solved") =>
  `/api/learn/lessons/${encodeURIComponent(key)}/${level}/${seed}/${which}`;
