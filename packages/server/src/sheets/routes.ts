import { API } from "@tourney/core/contract";
import { Router } from "express";
import { register } from "../http/register.js";
import type { SheetService } from "./service.js";

export function sheetRoutes({ sheets }: { sheets: SheetService }): Router {
  const router = Router();
  register(router, API.listSheets, ({ params }) => sheets.list(params.entryId));
  register(router, API.saveSheet, ({ params, body }) => sheets.save(params.entryId, params.judge, body));
  register(router, API.removeSheet, ({ params }) => sheets.remove(params.entryId, params.judge));
  register(router, API.getJudging, ({ params }) => sheets.getJudging(params.editionId));
  return router;
}
