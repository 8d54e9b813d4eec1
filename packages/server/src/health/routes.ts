import { API, type DemoProgress } from "@tourney/core/contract";
import type { Room } from "@tourney/store";
import { Router } from "express";
import { register } from "../http/register.js";

interface HealthDeps {
  room: Room;
  countRecorders: () => Promise<number>;
  readDemo: () => Promise<DemoProgress | null>;
}

/** Whether all that Tourney needs is there. That the database is away shows as the error of having asked. */
export function healthRoutes({ room, countRecorders, readDemo }: HealthDeps): Router {
  const router = Router();
  register(router, API.getHealth, async () => {
    const [free, recorders, demo] = await Promise.all([room.read(), countRecorders(), readDemo()]);
    return { room: free, recorders, demo };
  });
  return router;
}
