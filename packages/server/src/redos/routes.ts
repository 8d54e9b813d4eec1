import { API } from "@tourney/core/contract";
import { Router } from "express";
import { register } from "../http/register.js";
import type { RedoService } from "./service.js";

export function redoRoutes({ redos }: { redos: RedoService }): Router {
  const router = Router();
  register(router, API.redoTakes, ({ body }) => redos.redo(body));
  register(router, API.listRedos, ({ params }) => redos.list(params.editionId));
  register(router, API.undoRedo, ({ params }) => redos.undo(params.redoId));
  return router;
}
