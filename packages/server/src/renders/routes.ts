import { API, renderParams } from "@tourney/core/contract";
import { Router } from "express";
import { parseInput } from "../http/parse-input.js";
import { register, requireLead } from "../http/register.js";
import type { RenderFile, RenderService } from "./service.js";

export function renderRoutes({ renders }: { renders: RenderService }): Router {
  const router = Router();
  register(router, API.renderAgain, ({ body }) => renders.renderAgain(body));
  register(router, API.getRenderQueue, ({ params }) => renders.getQueue(params.editionId));
  // Files, not JSON: so not in the catalogue of operations.
  const download = (path: string, type: string, get: (renderId: string) => Promise<RenderFile>) =>
    router.get(path, async (request, response) => {
      requireLead(request);
      const { renderId } = parseInput(renderParams, request.params, "The address");
      const { name, bytes } = await get(renderId);
      response.attachment(name).type(type).send(bytes);
    });
  download("/api/renders/:renderId/clip.webp", "image/webp", (renderId) => renders.getClip(renderId));
  download("/api/renders/:renderId/strip.zip", "application/zip", (renderId) => renders.getStrip(renderId));
  return router;
}
