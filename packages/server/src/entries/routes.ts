import { AnswersImportResult, API, blobParams } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import { Router } from "express";
import * as z from "zod";
import type { BlobStore } from "@tourney/store";
import { parseInput } from "../http/parse-input.js";
import { register, requireLead } from "../http/register.js";
import type { Readers } from "../reading/readers.js";
import { receiveFile } from "../http/receive-file.js";
import type { FollowUpService } from "./follow-up-service.js";
import type { JudgementService } from "./judgement-service.js";
import type { EntryService } from "./service.js";

/** Bytes of a file of answers. */
const LARGEST_UPLOAD = 200_000_000;
const UploadParams = z.object({ editionId: z.uuid(), name: z.string().min(1).max(200) });

export function entryRoutes({
  entries,
  followUpService,
  judgements,
  blobs,
  readers,
  incomingDir,
}: {
  entries: EntryService;
  followUpService: FollowUpService;
  judgements: JudgementService;
  blobs: BlobStore;
  readers: Readers;
  /** Where files that are sent here lie while they are read. */
  incomingDir: string;
}): Router {
  const router = Router();
  register(router, API.getEntry, ({ params, query }) => entries.getDetail(params.entryId, query.edition ?? null));
  register(router, API.recordAgain, ({ params, body }) => entries.recordAgain(params.entryId, body));
  register(router, API.editEntry, ({ params, body }) => entries.edit(params.entryId, body));
  register(router, API.sendCorrection, ({ params, body }) => followUpService.sendCorrection(params.promptId, body));
  register(router, API.sendMends, ({ body }) => followUpService.sendMends(body));
  register(router, API.acceptMismatch, ({ params, body }) => judgements.acceptMismatch(params.entryId, body.accepted));
  register(router, API.markAnswer, ({ params, body }) => judgements.setMarks(params.entryId, body));
  register(router, API.choosePart, ({ params, body }) => judgements.choosePart(params.entryId, body.part));
  register(router, API.addHandAnswer, ({ params, body }) => entries.addHandAnswer(params.editionId, body));
  // A file as it is, not JSON: so not in the catalogue of operations. Its name tells what sort it is.
  router.put("/api/editions/:editionId/answers/:name", async (request, response) => {
    requireLead(request, "change");
    const { editionId, name } = parseInput(UploadParams, request.params, "The address");
    const imported = await receiveFile(request, { parent: incomingDir, most: LARGEST_UPLOAD }, async (path, folder) =>
      entries.importAnswers(editionId, await readers.read("answers", { path, name, into: folder })),
    );
    response.status(201).json(AnswersImportResult.parse(imported));
  });
  router.get("/api/entries/:entryId/files.zip", async (request, response) => {
    requireLead(request);
    const { entryId } = parseInput(API.getEntry.params, request.params, "The address");
    const { name, bytes } = await entries.save(entryId);
    response.attachment(name).type("application/zip").send(bytes);
  });
  router.get("/api/blobs/:sha256.webp", async (request, response) => {
    requireLead(request);
    const { sha256 } = parseInput(blobParams, request.params, "The address");
    const picture = await blobs.find(sha256);
    if (picture === null) {
      throw new TourneyError("NOT_FOUND", {
        message: "This picture is not in the store.",
        reason: "It was never kept, or the data folder has been changed by hand.",
        remedy: "Record the entry again.",
      });
    }
    response.set("Cache-Control", "private, max-age=31536000, immutable").type("image/webp").send(picture);
  });
  return router;
}
