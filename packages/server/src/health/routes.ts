import { API } from "@tourney/core/contract";
import type { Room } from "@tourney/store";
import { Router } from "express";
import { register } from "../http/register.js";

interface HealthDeps {
  room: Room;
  countRecorders: () => Promise<number>;
}

/** Whether all that Tourney needs is there. That the database is away shows as the error of having asked. */
export function healthRoutes({ room, countRecorders }: HealthDeps): Router {
  const router = Router();
  register(router, API.getHealth, async () => ({ room: await room.read(), recorders: await countRecorders() }));
  return router;
}
