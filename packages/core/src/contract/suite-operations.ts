import * as z from "zod";
import { Id, Key } from "./common.js";
import { defineOperation } from "./operation.js";
import {
  Edition,
  EditionSummary,
  SuiteDifference,
  SuiteDraft,
  SuiteFile,
  SuiteImport,
  SuiteImportResult,
  SuitePreview,
  SuiteText,
} from "./suite.js";

const editionParams = z.object({ editionId: Id });
const suiteParams = z.object({ suiteKey: Key });

/** What can be done with suites and their editions. */
export const SUITE_OPERATIONS = {
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
    scope: "run",
    summary: "Read a suite file and freeze it as the next edition",
    body: SuiteImport,
    response: SuiteImportResult,
    status: 201,
  }),
  previewSuite: defineOperation({
    id: "previewSuite",
    method: "post",
    path: "/api/suites/preview",
    scope: "run",
    summary: "What importing a suite file would change, without taking it",
    body: SuiteText,
    response: SuitePreview,
  }),
  exportEdition: defineOperation({
    id: "exportEdition",
    method: "get",
    path: "/api/editions/:editionId/file",
    summary: "The canonical suite file of an edition",
    params: editionParams,
    response: SuiteFile,
  }),
  compareEditions: defineOperation({
    id: "compareEditions",
    method: "get",
    path: "/api/editions/:editionId/difference",
    summary: "What changed from another edition to this one, prompt by prompt",
    params: editionParams,
    query: z.object({ from: Id }),
    response: SuiteDifference,
  }),
  duplicateSuite: defineOperation({
    id: "duplicateSuite",
    method: "post",
    path: "/api/editions/:editionId/duplicate",
    summary: "Freeze an edition's prompts as edition 1 of another suite",
    params: editionParams,
    body: z.strictObject({ key: Key, title: z.string().trim().min(1).max(80) }),
    response: SuiteImportResult,
    status: 201,
  }),
  archiveSuite: defineOperation({
    id: "archiveSuite",
    method: "post",
    path: "/api/suites/:suiteKey/archive",
    summary: "Put a suite out of the way, or bring it back; nothing of it is lost",
    params: suiteParams,
    body: z.strictObject({ archived: z.boolean() }),
    response: z.array(EditionSummary),
  }),
  getSuiteDraft: defineOperation({
    id: "getSuiteDraft",
    method: "get",
    path: "/api/suites/:suiteKey/draft",
    summary: "The text that is being worked on for a suite's next edition",
    params: suiteParams,
    response: SuiteDraft,
  }),
  saveSuiteDraft: defineOperation({
    id: "saveSuiteDraft",
    method: "put",
    path: "/api/suites/:suiteKey/draft",
    summary: "Keep the text for a suite's next edition, right or wrong",
    params: suiteParams,
    body: SuiteText,
    response: SuiteDraft,
  }),
  dropSuiteDraft: defineOperation({
    id: "dropSuiteDraft",
    method: "delete",
    path: "/api/suites/:suiteKey/draft",
    summary: "Throw the draft away",
    params: suiteParams,
    response: z.object({ dropped: z.boolean() }),
  }),
} as const;
