import { API } from "@tourney/core/contract";
import { Router } from "express";
import { KeptAnswers } from "../changes/kept-answers.js";
import type { Feeds } from "../feed/feeds.js";
import { register } from "../http/register.js";
import type { CourseService } from "./service.js";

/** Every open page shows the course: where reading it takes this long, it is read at most a tenth of the time, and may be a few seconds behind. */
const QUICK_MS = 50;
const RESTS = 9;

export function courseRoutes({ course, feeds }: { course: CourseService; feeds: Feeds }): Router {
  const kept = new KeptAnswers(feeds.changes, { rests: RESTS, quickMs: QUICK_MS });
  const router = Router();
  register(router, API.getCourse, ({ query }) => course.getCourse(query.edition), kept);
  return router;
}
