import { Id } from "@tourney/core/contract";
import { Router } from "express";
import * as z from "zod";
import { parseInput } from "../http/parse-input.js";
import { requireLead } from "../http/register.js";
import type { Feeds } from "./feeds.js";
import { openLine } from "./page-line.js";

/** Where pages open their lines, each for as long as the page is looked at. */
export const LINES_PATH = "/api/events";

/** A page shows one, and holds a few that it has shown lately. */
const MOST_WATCHED = 20;
const someOf = (what: string) =>
  z
    .union([Id.transform((id) => [id]), z.array(Id).max(MOST_WATCHED)])
    .default([])
    .describe(`${what}, as often as there are.`);

/** What a page looks at that is pushed to it whole. */
const Watched = z.object({
  run: someOf("A run"),
  standings: someOf("The standings of an edition"),
  since: z.string().max(60).optional().describe("What the page was told last."),
});

/** The line over which a page is told of all that moves. Server-sent events: not an operation with one answer, so not in the catalogue. */
export function feedRoutes({ feeds }: { feeds: Feeds }): Router {
  const router = Router();
  router.get(LINES_PATH, (request, response) => {
    requireLead(request);
    const { run, standings, since } = parseInput(Watched, request.query, "The address's query");
    openLine(response);
    feeds.signals.subscribe(response, request.get("Last-Event-ID") ?? since);
    for (const id of run) feeds.runs.subscribe(id, response);
    for (const id of standings) feeds.standings.subscribe(id, response);
  });
  return router;
}
