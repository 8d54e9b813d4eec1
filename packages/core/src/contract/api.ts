import * as z from "zod";
import { Id, Sha256 } from "./common.js";
import { ConnectionTest, Entrant, EntrantInput, EntrantsImport, EntrantsImportResult } from "./entrant.js";
import { EntryDetail, HandAnswer, HandAnswerResult } from "./entry.js";
import { defineOperation } from "./operation.js";
import { Run, RunDetail, RunInput } from "./run.js";
import { Course, Standings } from "./standings.js";
import { Edition, EditionSummary, Kind, SuiteImport, SuiteImportResult } from "./suite.js";
import { BallotInput, BallotReceipt, BoothQueue, BoothState, Panel, PanelInput, Token, VoterInput } from "./voting.js";
import { Wall } from "./wall.js";

export const SessionState = z.object({ signedIn: z.boolean(), exhibitOrigin: z.string() }).meta({ id: "SessionState" });
export type SessionState = z.infer<typeof SessionState>;

const editionParams = z.object({ editionId: Id });
const entrantParams = z.object({ entrantId: Id });
const runParams = z.object({ runId: Id });
const entryParams = z.object({ entryId: Id });
const panelTokenParams = z.object({ panelToken: Token });
const boutParams = z.object({ boutToken: Token });

/** Every operation of the HTTP API, by its id. */
export const API = {
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
    summary: "The live state of each step of the job",
    response: Course,
  }),
  listEditions: defineOperation({
    id: "listEditions",
    method: "get",
    path: "/api/editions",
    summary: "All frozen editions, newest first",
    response: z.array(EditionSummary),
  }),
  getEdition: defineOperation({
    id: "getEdition",
    method: "get",
    path: "/api/editions/:editionId",
    summary: "One edition with its prompts",
    params: editionParams,
    response: Edition,
  }),
  importSuite: defineOperation({
    id: "importSuite",
    method: "post",
    path: "/api/suites/import",
    summary: "Read a suite file and freeze it as the next edition",
    body: SuiteImport,
    response: SuiteImportResult,
    status: 201,
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
    summary: "Change an entrant that has not answered anything yet",
    params: entrantParams,
    body: EntrantInput,
    response: Entrant,
  }),
  importEntrants: defineOperation({
    id: "importEntrants",
    method: "post",
    path: "/api/entrants/import",
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
  listRuns: defineOperation({
    id: "listRuns",
    method: "get",
    path: "/api/editions/:editionId/runs",
    summary: "The runs of an edition, newest first",
    params: editionParams,
    response: z.array(Run),
  }),
  startRun: defineOperation({
    id: "startRun",
    method: "post",
    path: "/api/runs",
    summary: "Queue the missing generations of prompts × entrants × takes",
    body: RunInput,
    response: Run,
    status: 201,
  }),
  getRun: defineOperation({
    id: "getRun",
    method: "get",
    path: "/api/runs/:runId",
    summary: "Progress, spend and failures of a run",
    params: runParams,
    response: RunDetail,
  }),
  retryRun: defineOperation({
    id: "retryRun",
    method: "post",
    path: "/api/runs/:runId/retry",
    summary: "Queue the run's failed and cancelled generations again",
    params: runParams,
    response: RunDetail,
  }),
  cancelRun: defineOperation({
    id: "cancelRun",
    method: "post",
    path: "/api/runs/:runId/cancel",
    summary: "Cancel what has not been sent yet",
    params: runParams,
    response: RunDetail,
  }),
  getWall: defineOperation({
    id: "getWall",
    method: "get",
    path: "/api/editions/:editionId/wall",
    summary: "Prompts × entrants with the state of each cell",
    params: editionParams,
    response: Wall,
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
    response: EntryDetail,
  }),
  recordAgain: defineOperation({
    id: "recordAgain",
    method: "post",
    path: "/api/entries/:entryId/render",
    summary: "Record an entry again",
    params: entryParams,
    response: z.object({ renderId: Id }),
    status: 201,
  }),
  listPanels: defineOperation({
    id: "listPanels",
    method: "get",
    path: "/api/editions/:editionId/panels",
    summary: "Panels with their voters",
    params: editionParams,
    response: z.array(Panel),
  }),
  addPanel: defineOperation({
    id: "addPanel",
    method: "post",
    path: "/api/panels",
    summary: "Make a panel with an open invitation",
    body: PanelInput,
    response: Panel,
    status: 201,
  }),
  getBooth: defineOperation({
    id: "getBooth",
    method: "get",
    path: "/api/booth/:panelToken",
    access: "open",
    summary: "What a voter sees first",
    params: panelTokenParams,
    response: BoothState,
  }),
  joinPanel: defineOperation({
    id: "joinPanel",
    method: "post",
    path: "/api/booth/:panelToken/voters",
    access: "open",
    summary: "Become a voter of the panel in this browser",
    params: panelTokenParams,
    body: VoterInput,
    response: BoothState,
    status: 201,
  }),
  getBouts: defineOperation({
    id: "getBouts",
    method: "get",
    path: "/api/booth/:panelToken/bouts",
    access: "voter",
    summary: "The bout to vote on and the next one",
    params: panelTokenParams,
    response: BoothQueue,
  }),
  castBallot: defineOperation({
    id: "castBallot",
    method: "post",
    path: "/api/booth/bouts/:boutToken/ballot",
    access: "voter",
    summary: "Answer a bout; sending the same ballot again changes nothing",
    params: boutParams,
    body: BallotInput,
    response: BallotReceipt,
    status: 201,
  }),
  takeBackBallot: defineOperation({
    id: "takeBackBallot",
    method: "delete",
    path: "/api/booth/:panelToken/last-ballot",
    access: "voter",
    summary: "Take back the voter's last ballot",
    params: panelTokenParams,
    response: BallotReceipt,
  }),
  getStandings: defineOperation({
    id: "getStandings",
    method: "get",
    path: "/api/editions/:editionId/standings",
    summary: "Ratings with intervals and what follows from them",
    params: editionParams,
    query: z.object({ kind: Kind.optional() }),
    response: Standings,
  }),
} as const;

/** Pictures are not JSON and stand beside the catalogue: GET /api/blobs/<sha256>.webp, for the lead. */
export const blobParams = z.object({ sha256: Sha256 });
