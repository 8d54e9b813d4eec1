import { ExtractJob, type Failure, GenerateJob, RenderFinishedJob } from "@tourney/core/contract";
import type { TaskList } from "graphile-worker";
import * as z from "zod";
import { createExtractJob, createRenderFinishedJob } from "../entries/extract-job.js";
import { createGenerateJob, type GenerateDeps } from "../generations/generate-job.js";
import type { Services } from "../services.js";
import { createDispatchJob } from "./dispatch-job.js";
import { givingUp } from "./giving-up.js";

/** Every job but the recordings, each of which ends as a failure that the lead can see when it fails in the same way again and again. */
export function createTasks(services: Services, deps: GenerateDeps): TaskList {
  const { log, states } = deps;
  const { entries } = services.extractDeps;
  const generate = createGenerateJob(deps);
  const failureOf = ({ message, remedy }: { message: string; remedy: string }): Failure => ({
    ...{ cause: "internal", message, remedy, httpStatus: null },
    at: new Date().toISOString(),
  });
  return {
    dispatch: createDispatchJob(deps),
    generate: givingUp((payload, { abortSignal }) => generate(payload, abortSignal), {
      log,
      giveUp: (payload, why) => states.abandon(GenerateJob.parse(payload).generationId, failureOf(why)),
    }),
    extract: givingUp(createExtractJob(services.extractDeps), {
      log,
      giveUp: (payload, why) => entries.noteUntaken(ExtractJob.parse(payload).generationId, failureOf(why)),
    }),
    "render-finished": givingUp(createRenderFinishedJob({ ...services, ...services.extractDeps }), {
      log,
      giveUp: async (payload, { message, remedy }) => {
        // The payload may be what cannot be read: only its id is.
        const { renderId } = z.object({ renderId: RenderFinishedJob.shape.renderId }).parse(payload);
        await entries.finishRender({ renderId, recording: null, error: `${message} ${remedy}` }, []);
      },
    }),
  };
}
