import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { Id, WhatCounts } from "@tourney/core/contract";
import { type Request, type Response, Router } from "express";
import * as z from "zod";
import { parseInput } from "../http/parse-input.js";
import { requireLead } from "../http/register.js";
import type { BundleService } from "../bundles/bundle-service.js";
import type { ExportedFile, ExportService } from "./service.js";

const flag = z
  .enum(["0", "1"])
  .default("0")
  .transform((value) => value === "1");
const BundleQuery = z.object({ content: z.enum(["entries", "all"]).default("all"), names: flag });
const BallotsQuery = WhatCounts.extend({ names: flag, all: flag });

/** Files for the lead's disk. They are made while they are sent, so they are not in the catalogue of operations, which answer in JSON. */
export function exportRoutes({
  exportService,
  bundles,
}: {
  exportService: ExportService;
  bundles: BundleService;
}): Router {
  const router = Router();
  router.get("/api/editions/:editionId/exports/ballots.:format", async (request, response) => {
    const { editionId, format } = readParams(request, ["csv", "jsonl"]);
    const { names, all, ...counts } = parseInput(BallotsQuery, request.query, "The query");
    const wanted = { format, counts, withNames: names, withAll: all };
    await send(await exportService.exportBallots(editionId, wanted), response);
  });
  router.get("/api/editions/:editionId/exports/standings.:format", async (request, response) => {
    const { editionId, format } = readParams(request, ["csv", "json"]);
    const counts = parseInput(WhatCounts, request.query, "The query");
    await send(await exportService.exportStandings(editionId, { format, counts }), response);
  });
  router.get("/api/editions/:editionId/exports/bundle.zip", async (request, response) => {
    requireLead(request);
    const { editionId } = parseInput(z.object({ editionId: Id }), request.params, "The address");
    const { content, names } = parseInput(BundleQuery, request.query, "The query");
    const { name, stream } = await bundles.make(editionId, { content, withNames: names });
    response.attachment(name).type("application/zip");
    await pipeline(stream, response);
  });
  return router;
}

function readParams<F extends string>(request: Request, formats: readonly [F, ...F[]]) {
  requireLead(request);
  return parseInput(z.object({ editionId: Id, format: z.enum(formats) }), request.params, "The address");
}

async function send({ name, type, chunks }: ExportedFile, response: Response): Promise<void> {
  response.attachment(name).type(type);
  await pipeline(Readable.from(chunks), response);
}
