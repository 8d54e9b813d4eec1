import { API } from "@tourney/core/contract";
import { Router } from "express";
import { register } from "../http/register.js";
import type { CompareService } from "./service.js";

export function compareRoutes({ compare }: { compare: CompareService }): Router {
  const router = Router();
  register(router, API.listComparable, ({ params, query }) =>
    compare.listComparable(params.entryId, query.edition ?? null),
  );
  return router;
}
