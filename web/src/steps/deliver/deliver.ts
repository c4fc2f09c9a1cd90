import { api, exactly, type Delivery, type Edit, type JobState, type Piece, type Schemas } from "../../api/client";
import { follow } from "../../api/jobs";

/** Has a file written, and puts it into the downloads. */
export async function deliver(piece: Piece, request: Partial<Schemas["DeliveryRequest"]> &
  Pick<Schemas["DeliveryRequest"], "format">, onProgress: (job: JobState) => void): Promise<JobState> {
  const body = { clear_ground: false, looks: [], ...request };
  const job = await exactly<"/api/pieces/{piece_id}/deliveries", "post">(api.POST("/api/pieces/{piece_id}/deliveries",
    { params: { path: { piece_id: piece.id } }, body }));
  const done = await follow(job, onProgress);
  if (done.state === "done") {
    const link = document.createElement("a");
    link.href = `/api/jobs/${done.id}/file`;
    link.download = done.file_name ?? "";
    link.click();
  }
  return done;
}

/** An edit of some of what is chosen about the stack. */
export function choose(some: (now: Delivery) => Partial<Delivery>): (latest: Piece) => Edit {
  return ({ recipe }) => ({ kind: "set_delivery", delivery: { ...recipe.delivery, ...some(recipe.delivery ?? {}) } });
}
