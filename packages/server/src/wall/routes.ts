import { API } from "@tourney/core/contract";
import { Router } from "express";
import type { Feeds } from "../feed/feeds.js";
import { register } from "../http/register.js";
import type { WallService } from "./service.js";

export function wallRoutes({ wall, feeds }: { wall: WallService; feeds: Feeds }): Router {
  const router = Router();
  register(router, API.getWall, ({ params, query }) => feeds.walls.get(params.editionId, query));
  register(router, API.getStrip, ({ params, query }) => wall.getStrip(params.entryId, query.edition ?? null));
  register(router, API.getGrid, ({ params }) => wall.getGrid(params.editionId), feeds.kept.byCells);
  return router;
}
