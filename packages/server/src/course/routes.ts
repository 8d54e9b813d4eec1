import { API } from "@tourney/core/contract";
import { Router } from "express";
import { KeptAnswers } from "../changes/kept-answers.js";
import type { Feeds } from "../feed/feeds.js";
import { register } from "../http/register.js";
import type { CourseService } from "./service.js";

/** Every open page shows the course: it may be a few seconds behind where reading it is slow. */
const RESTS = 4;

export function courseRoutes({ course, feeds }: { course: CourseService; feeds: Feeds }): Router {
  const kept = new KeptAnswers(feeds.changes, RESTS);
  const router = Router();
  register(router, API.getCourse, ({ query }) => course.getCourse(query.edition), kept);
  return router;
}
