import { API, Id, Token, WhatCounts } from "@tourney/core/contract";
import { type Response, Router } from "express";
import * as z from "zod";
import { parseInput } from "../http/parse-input.js";
import { register, requireLead } from "../http/register.js";
import type { StandingsReportService } from "./service.js";

interface ReportRoutes {
  standingsReport: StandingsReportService;
}

/** A report runs no script and loads nothing, whoever's words stand in it. */
const POLICY = "default-src 'none'; style-src 'unsafe-inline'; img-src data:; base-uri 'none'; frame-ancestors 'none'";

const sendPage = (response: Response, page: string): void => {
  response.set("Content-Security-Policy", POLICY).set("Cache-Control", "no-store").type("html").send(page);
};

/** Reports as files for the lead, and the links to them. */
export function reportRoutes({ standingsReport }: ReportRoutes): Router {
  const router = Router();
  router.get("/api/editions/:editionId/report.html", async (request, response) => {
    requireLead(request);
    const { editionId } = parseInput(z.object({ editionId: Id }), request.params, "The address");
    const counts = parseInput(WhatCounts, request.query, "The query");
    const page = await standingsReport.make(editionId, counts);
    response.attachment("report.html");
    sendPage(response, page);
  });
  register(router, API.listReportLinks, ({ params }) => standingsReport.listLinks(params.editionId));
  register(router, API.addReportLink, ({ params, body }) => standingsReport.addLink(params.editionId, body.counts));
  register(router, API.setReportLink, ({ params, body }) => standingsReport.setLink(params.linkId, body.withdrawn));
  return router;
}

/** What people who are no leads read by a link: without a session. */
export function sharedReportRoutes({ standingsReport }: ReportRoutes): Router {
  const router = Router();
  router.get("/reports/:token", async (request, response) => {
    const { token } = parseInput(z.object({ token: Token }), request.params, "The link");
    sendPage(response, await standingsReport.readByToken(token));
  });
  return router;
}
