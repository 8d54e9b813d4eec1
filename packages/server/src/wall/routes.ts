import { API } from "@tourney/core/contract";
import { Router } from "express";
import { KeptAnswers } from "../changes/kept-answers.js";
import type { Feeds } from "../feed/feeds.js";
import { register } from "../http/register.js";
import type { WallService } from "./service.js";
import { WallMemory } from "./wall-memory.js";

export function wallRoutes({ wall, feeds }: { wall: WallService; feeds: Feeds }): Router {
  const memory = new WallMemory({ wall, changes: feeds.changes });
  const kept = new KeptAnswers(feeds.changes.of("cells"));
  const router = Router();
  register(router, API.getWall, ({ params, query }) => memory.get(params.editionId, query));
  register(router, API.getStrip, ({ params, query }) => wall.getStrip(params.entryId, query.edition ?? null));
  register(router, API.getGrid, ({ params }) => wall.getGrid(params.editionId), kept);
  return router;
}
