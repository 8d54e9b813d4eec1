import * as z from "zod";
import { Id } from "./common.js";
import { defineOperation } from "./operation.js";
import { ContestResults } from "./contest.js";
import {
  BasisPart,
  Mending,
  PartedBasis,
  PartName,
  PromptRatings,
  RatingsBySeeing,
  RatingsOverTime,
  Standings,
} from "./standings.js";
import { StandingsView, StandingsViewInput, WhatCounts } from "./what-counts.js";

const editionParams = z.object({ editionId: Id });

/** What ballots come to, by one choice of what counts or another. */
export const STANDINGS_OPERATIONS = {
  getStandings: defineOperation({
    id: "getStandings",
    method: "get",
    path: "/api/editions/:editionId/standings",
    summary: "Ratings with intervals and what follows from them",
    params: editionParams,
    query: WhatCounts,
    response: Standings,
  }),
  getStandingsBasis: defineOperation({
    id: "getStandingsBasis",
    method: "get",
    path: "/api/editions/:editionId/standings-basis",
    summary:
      "What standings say of entrants, and the names of the parts of all ballots that may count, for counting them by another choice",
    params: editionParams,
    query: WhatCounts.pick({ pages: true }),
    response: PartedBasis,
  }),
  getBasisPart: defineOperation({
    id: "getBasisPart",
    method: "get",
    path: "/api/editions/:editionId/standings-basis/parts/:part",
    summary: "Some of the ballots that may count",
    params: editionParams.extend({ part: PartName }),
    response: BasisPart,
  }),
  getPromptRatings: defineOperation({
    id: "getPromptRatings",
    method: "get",
    path: "/api/editions/:editionId/prompt-ratings",
    summary: "Ratings on each prompt, of entrants as they are set up now",
    params: editionParams,
    response: PromptRatings,
  }),
  getRatingsBySeeing: defineOperation({
    id: "getRatingsBySeeing",
    method: "get",
    path: "/api/editions/:editionId/ratings-by-seeing",
    summary: "Ratings by the voters' pointer, window and frame rate, of all ballots for which they are known",
    params: editionParams,
    response: RatingsBySeeing,
  }),
  getMending: defineOperation({
    id: "getMending",
    method: "get",
    path: "/api/editions/:editionId/mending",
    summary: "First shots against mends and corrections, on the prompts that count",
    params: editionParams,
    query: WhatCounts,
    response: z.array(Mending),
  }),
  getRatingsOverTime: defineOperation({
    id: "getRatingsOverTime",
    method: "get",
    path: "/api/editions/:editionId/ratings-over-time",
    summary: "Ratings after the first ballots that count, after more, and after all",
    params: editionParams,
    query: WhatCounts,
    response: RatingsOverTime,
  }),
  getContests: defineOperation({
    id: "getContests",
    method: "get",
    path: "/api/editions/:editionId/contests",
    summary: "What contests beside the ratings came to, and how surely newcomers are placed",
    params: editionParams,
    response: ContestResults,
  }),
  listViews: defineOperation({
    id: "listViews",
    method: "get",
    path: "/api/editions/:editionId/standings-views",
    summary: "Choices of what counts that were given a name, of the edition's suite",
    params: editionParams,
    response: z.array(StandingsView),
  }),
  keepView: defineOperation({
    id: "keepView",
    method: "post",
    path: "/api/editions/:editionId/standings-views",
    summary: "Give a choice of what counts a name",
    params: editionParams,
    body: StandingsViewInput,
    response: StandingsView,
    status: 201,
  }),
  removeView: defineOperation({
    id: "removeView",
    method: "delete",
    path: "/api/standings-views/:viewId",
    summary: "Remove a name for a choice of what counts",
    params: z.object({ viewId: Id }),
    response: z.object({ removed: z.boolean() }),
  }),
} as const;
