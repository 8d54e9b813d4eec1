import { API } from "@tourney/core/contract";
import { Router } from "express";
import { register } from "../http/register.js";
import type { CourseService } from "./service.js";

export function courseRoutes({ course }: { course: CourseService }): Router {
  const router = Router();
  register(router, API.getCourse, ({ query }) => course.getCourse(query.edition));
  return router;
}
