import * as z from "zod";
import { Id, Sha256 } from "./common.js";
import {
  ConnectionTest,
  Entrant,
  EntrantInput,
  EntrantsImport,
  EntrantsImportResult,
  EntrantVersions,
} from "./entrant.js";
import { TOKEN_OPERATIONS } from "./api-token.js";
import { AnswerMarks, Correction, EntryDetail, EntryEdit, HandAnswer, HandAnswerResult, MendRequest } from "./entry.js";
import { COMPARE_OPERATIONS } from "./compare.js";
import { defineOperation } from "./operation.js";
import { Course, Health } from "./standings.js";
import { REPORT_OPERATIONS } from "./report-operations.js";
import { STANDINGS_OPERATIONS } from "./standings-operations.js";
import { SNAPSHOT_OPERATIONS } from "./snapshot.js";
import { STOPPING_OPERATIONS } from "./stopping.js";
import { SHEET_OPERATIONS } from "./score-sheet.js";
import { SUITE_OPERATIONS } from "./suite-operations.js";
import { RecordAgain } from "./render.js";
import { RENDER_OPERATIONS } from "./render-operations.js";
import { REDO_OPERATIONS } from "./redo.js";
import { RUN_OPERATIONS } from "./run-operations.js";
import { SEARCH_OPERATIONS } from "./search.js";
import { Token } from "./voting.js";
import { VOTING_OPERATIONS } from "./voting-operations.js";
import { Grid, Strip, WallAnswer, WallQuery } from "./wall.js";

export const SessionState = z.object({ signedIn: z.boolean(), exhibitOrigin: z.string() }).meta({ id: "SessionState" });
export type SessionState = z.infer<typeof SessionState>;

const editionParams = z.object({ editionId: Id });
const entrantParams = z.object({ entrantId: Id });
const entryParams = z.object({ entryId: Id });

/** Every operation of the HTTP API, by its id. */
export const API = {
  ...SUITE_OPERATIONS,
  ...RUN_OPERATIONS,
  ...REDO_OPERATIONS,
  ...RENDER_OPERATIONS,
  ...SHEET_OPERATIONS,
  ...COMPARE_OPERATIONS,
  ...SEARCH_OPERATIONS,
  ...STANDINGS_OPERATIONS,
  ...REPORT_OPERATIONS,
  ...SNAPSHOT_OPERATIONS,
  ...STOPPING_OPERATIONS,
  ...VOTING_OPERATIONS,
  ...TOKEN_OPERATIONS,
  getSession: defineOperation({
    id: "getSession",
    method: "get",
    path: "/api/session",
    access: "open",
    summary: "Whether this browser is signed in as the lead",
    response: SessionState,
  }),
  signIn: defineOperation({
    id: "signIn",
    method: "post",
    path: "/api/session",
    access: "open",
    summary: "Sign in with a one-time link",
    body: z.strictObject({ token: Token }),
    response: SessionState,
  }),
  signOut: defineOperation({
    id: "signOut",
    method: "delete",
    path: "/api/session",
    access: "open",
    summary: "Sign out",
    response: SessionState,
  }),
  getCourse: defineOperation({
    id: "getCourse",
    method: "get",
    path: "/api/course",
    summary: "The live state of each step of the job, for an edition or the newest",
    query: z.object({ edition: Id.optional() }),
    response: Course,
  }),
  getHealth: defineOperation({
    id: "getHealth",
    method: "get",
    path: "/api/health",
    summary:
      "Whether all that Tourney needs is there (room on the disk, a recorder), and how far a demo is that is being made",
    response: Health,
  }),
  listEntrants: defineOperation({
    id: "listEntrants",
    method: "get",
    path: "/api/entrants",
    summary: "All entrants",
    response: z.array(Entrant),
  }),
  addEntrant: defineOperation({
    id: "addEntrant",
    method: "post",
    path: "/api/entrants",
    summary: "Add an entrant",
    body: EntrantInput,
    response: Entrant,
    status: 201,
  }),
  replaceEntrant: defineOperation({
    id: "replaceEntrant",
    method: "put",
    path: "/api/entrants/:entrantId",
    summary: "Change an entrant; one that has answered gets its next version",
    params: entrantParams,
    body: EntrantInput,
    response: Entrant,
  }),
  listEntrantVersions: defineOperation({
    id: "listEntrantVersions",
    method: "get",
    path: "/api/entrants/:entrantId/versions",
    summary: "The versions of an entrant, oldest first",
    params: entrantParams,
    response: EntrantVersions,
  }),
  retireEntrant: defineOperation({
    id: "retireEntrant",
    method: "post",
    path: "/api/entrants/:entrantId/retirement",
    summary: "Take an entrant out of further runs, or back in",
    params: entrantParams,
    body: z.strictObject({ retired: z.boolean() }),
    response: Entrant,
  }),
  removeEntrant: defineOperation({
    id: "removeEntrant",
    method: "delete",
    path: "/api/entrants/:entrantId",
    summary: "Remove an entrant that has nothing yet",
    params: entrantParams,
    response: z.object({ removed: z.boolean() }),
  }),
  importEntrants: defineOperation({
    id: "importEntrants",
    method: "post",
    path: "/api/entrants/import",
    scope: "run",
    summary: "Read an entrants file",
    body: EntrantsImport,
    response: EntrantsImportResult,
    status: 201,
  }),
  testConnection: defineOperation({
    id: "testConnection",
    method: "post",
    path: "/api/entrants/:entrantId/connection-test",
    summary: "Ask the entrant's endpoint for its models and one short answer",
    params: entrantParams,
    response: ConnectionTest,
  }),
  getWall: defineOperation({
    id: "getWall",
    method: "get",
    path: "/api/editions/:editionId/wall",
    summary: "Prompts × entrants with the state of each cell of one take",
    params: editionParams,
    query: WallQuery,
    response: WallAnswer,
  }),
  getStrip: defineOperation({
    id: "getStrip",
    method: "get",
    path: "/api/entries/:entryId/strip",
    summary: "The pictures of an entry's recording, as the wall scrubs and plays them",
    params: entryParams,
    query: z.object({ edition: Id.optional() }),
    response: Strip,
  }),
  getGrid: defineOperation({
    id: "getGrid",
    method: "get",
    path: "/api/editions/:editionId/grid",
    summary: "How many takes each cell has, to plan a run on",
    params: editionParams,
    response: Grid,
  }),
  addHandAnswer: defineOperation({
    id: "addHandAnswer",
    method: "post",
    path: "/api/editions/:editionId/answers",
    summary: "Take in an answer that was fetched by hand",
    params: editionParams,
    body: HandAnswer,
    response: HandAnswerResult,
    status: 201,
  }),
  getEntry: defineOperation({
    id: "getEntry",
    method: "get",
    path: "/api/entries/:entryId",
    summary: "One entry with everything known about it",
    params: entryParams,
    query: z.object({ edition: Id.optional() }),
    response: EntryDetail,
  }),
  recordAgain: defineOperation({
    id: "recordAgain",
    method: "post",
    path: "/api/entries/:entryId/render",
    summary: "Record an entry again",
    params: entryParams,
    body: RecordAgain,
    response: z.object({ renderId: Id }),
    status: 201,
  }),
  editEntry: defineOperation({
    id: "editEntry",
    method: "post",
    path: "/api/entries/:entryId/edits",
    summary: "Mend an entry by hand: a new entry beside it, kept out of bouts",
    params: entryParams,
    body: EntryEdit,
    response: z.object({ entryId: Id }),
    status: 201,
  }),
  sendCorrection: defineOperation({
    id: "sendCorrection",
    method: "post",
    path: "/api/prompts/:promptId/corrections",
    summary: "Send one follow-up alike to every entrant that has answered a prompt",
    params: z.object({ promptId: Id }),
    body: Correction,
    response: z.object({ sent: z.int() }),
    status: 201,
  }),
  sendMends: defineOperation({
    id: "sendMends",
    method: "post",
    path: "/api/mends",
    summary: "Feed entries their own errors back, as the next mend: one entry, a row, a column or all",
    body: MendRequest,
    response: z.object({ sent: z.int() }),
    status: 201,
  }),
  acceptMismatch: defineOperation({
    id: "acceptMismatch",
    method: "post",
    path: "/api/entries/:entryId/mismatch",
    summary: "Let an answer by another model than was asked for count, or not",
    params: entryParams,
    body: z.strictObject({ accepted: z.boolean() }),
    response: z.object({ accepted: z.boolean() }),
  }),
  markAnswer: defineOperation({
    id: "markAnswer",
    method: "put",
    path: "/api/entries/:entryId/marks",
    summary: "Note that a person helped, or that an answer is not what was asked for",
    params: entryParams,
    body: AnswerMarks,
    response: AnswerMarks,
  }),
  choosePart: defineOperation({
    id: "choosePart",
    method: "post",
    path: "/api/entries/:entryId/part",
    summary: "Take another of the pages in an answer as its artifact",
    params: entryParams,
    body: z.strictObject({ part: z.string().min(1).max(300) }),
    response: z.object({ entryId: Id }),
  }),
} as const;

/** Pictures are not JSON and stand beside the catalogue: GET /api/blobs/<sha256>.webp, for the lead. */
export const blobParams = z.object({ sha256: Sha256 });
