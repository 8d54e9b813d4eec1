import * as z from "zod";
import { Id, Instant } from "./common.js";
import { defineOperation } from "./operation.js";
import { WhatCounts } from "./what-counts.js";

/** A link by which somebody who is no lead reads the report on an edition, as it is when it is opened. */
export const ReportLink = z
  .object({
    id: Id,
    editionId: Id,
    counts: WhatCounts,
    url: z.url(),
    createdAt: Instant,
    withdrawnAt: Instant.nullable().describe("It opens nothing since then."),
  })
  .meta({ id: "ReportLink" });
export type ReportLink = z.output<typeof ReportLink>;

const editionParams = z.object({ editionId: Id });

/** Reports for people who are no leads. The page itself is not JSON: GET /api/editions/<id>/report.html, and GET /reports/<token> by a link. */
export const REPORT_OPERATIONS = {
  listReportLinks: defineOperation({
    id: "listReportLinks",
    method: "get",
    path: "/api/editions/:editionId/report-links",
    summary: "Links to reports on the edition, the newest first",
    params: editionParams,
    response: z.array(ReportLink),
  }),
  addReportLink: defineOperation({
    id: "addReportLink",
    method: "post",
    path: "/api/editions/:editionId/report-links",
    summary: "Make a link by which anybody who has it reads the report",
    params: editionParams,
    body: z.strictObject({ counts: WhatCounts }),
    response: ReportLink,
    status: 201,
  }),
  setReportLink: defineOperation({
    id: "setReportLink",
    method: "put",
    path: "/api/report-links/:linkId",
    summary: "Withdraw a link, or let it be read again",
    params: z.object({ linkId: Id }),
    body: z.strictObject({ withdrawn: z.boolean() }),
    response: ReportLink,
  }),
} as const;
