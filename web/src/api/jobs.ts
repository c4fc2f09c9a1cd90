import { api, need, Problem, type JobState } from "./client";

const PAUSE_MS = 160;

/** Follows a job to its end; throws the problem it failed with. */
export async function follow(
  started: JobState,
  onProgress: (job: JobState) => void,
): Promise<JobState> {
  let job = started;
  while (job.state === "waiting" || job.state === "running") {
    onProgress(job);
    await new Promise((done) => setTimeout(done, PAUSE_MS));
    job = await need(api.GET("/api/jobs/{job_id}", { params: { path: { job_id: job.id } } }));
  }
  onProgress(job);
  if (job.state === "failed") {
    const problem = job.problem as { status?: number; title?: string; detail?: string } | null;
    throw new Problem(problem?.status ?? 500, problem?.title ?? "Failed", problem?.detail ?? "It did not work.");
  }
  return job;
}

export function cancel(job: JobState): Promise<unknown> {
  return api.DELETE("/api/jobs/{job_id}", { params: { path: { job_id: job.id } } });
}
