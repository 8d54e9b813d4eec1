import { API } from "@tourney/core/contract";
import { Router } from "express";
import { register } from "../http/register.js";
import type { WallService } from "./service.js";

export function wallRoutes({ wall }: { wall: WallService }): Router {
  const router = Router();
  register(router, API.getWall, ({ params }) => wall.getWall(params.editionId));
  return router;
}
