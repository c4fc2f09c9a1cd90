import { api, exactly, Problem, toProblem, type JobState } from "./client";

const PAUSE_MS = 160;
const RESTART_MS = 1000;
const MOST_TRIES = 20;

/** Follows a job to its end; throws the problem it failed with. */
export async function follow(
  started: JobState,
  onProgress: (job: JobState) => void,
): Promise<JobState> {
  let job = started;
  while (job.state === "waiting" || job.state === "running") {
    onProgress(job);
    await new Promise((done) => setTimeout(done, PAUSE_MS));
    job = await asked(job.id);
  }
  onProgress(job);
  if (job.state === "failed") {
    const problem = job.problem as { status?: number; title?: string; detail?: string } | null;
    throw new Problem(problem?.status ?? 500, problem?.title ?? "Failed", problem?.detail ?? "It did not work.");
  }
  return job;
}

/** A job, with patience for a server that is being started again: it knows what became of the job. */
async function asked(id: string): Promise<JobState> {
  for (let tries = 1; ; tries++) {
    try {
      return await exactly<"/api/jobs/{job_id}", "get">(api.GET("/api/jobs/{job_id}",
        { params: { path: { job_id: id } } }));
    } catch (error) {
      if (toProblem(error).status !== 0 || tries >= MOST_TRIES) throw error;
      await new Promise((done) => setTimeout(done, RESTART_MS));
    }
  }
}

export function cancel(job: JobState): Promise<unknown> {
  return api.DELETE("/api/jobs/{job_id}", { params: { path: { job_id: job.id } } });
}

/** Posts a form with a file; the answer is a job. */
export async function send(address: string, fields: Record<string, string | File>): Promise<JobState> {
  const form = new FormData();
  for (const [name, value] of Object.entries(fields)) form.set(name, value);
  let response;
  try {
    response = await fetch(address, { method: "POST", body: form });
  } catch (error) {
    throw toProblem(error);
  }
  const body: unknown = await response.json().catch(() => null);
  if (!response.ok) throw toProblem(body, response.status);
  return body as JobState;
}
