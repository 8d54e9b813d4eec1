import { API } from "@tourney/core/contract";
import { Router } from "express";
import { register } from "../http/register.js";
import type { WallService } from "./service.js";

export function wallRoutes({ wall }: { wall: WallService }): Router {
  const router = Router();
  register(router, API.getWall, ({ params, query }) => wall.getWall(params.editionId, query));
  register(router, API.getStrip, ({ params, query }) => wall.getStrip(params.entryId, query.edition ?? null));
  register(router, API.getGrid, ({ params }) => wall.getGrid(params.editionId));
  return router;
}
