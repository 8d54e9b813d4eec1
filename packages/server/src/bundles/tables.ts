import {
  ArtifactFacts,
  EntryFile,
  Failure,
  FollowUp,
  Prices,
  PromptDefinition,
  Reason,
  Recording,
  RunOptions,
  ScoreSheetInput,
  SeenWith,
  Settings,
  Standing,
  SuiteDefinition,
  Timings,
  TraceStep,
  Usage,
  StoppingGoal,
  WhatCounts,
} from "@tourney/core/contract";
import * as z from "zod";
import type { Models } from "../db/models.js";
import { createToken, hashToken } from "../tokens.js";
import { SCOPES } from "./record-queries.sql.js";

/** A table of which a bundle holds the rows that hang on its edition, as `records/<table>.jsonl`; columns go by their own names. */
export interface BundledTable {
  name: string;
  model: keyof Models;
  /** Selects the keys of the rows of edition $1, in the order in which they can be written. */
  scope: string;
  /** The column that the scope gives, and its type. */
  key: string;
  keyType: "uuid" | "bigint" | "text";
  /** Whether other editions may have rows of the same key. */
  isOfEdition: boolean;
  /** The columns that name a row of another table. */
  references: Readonly<Record<string, string>>;
  /** Columns that stay behind: the database computes them, or they open something that is nobody else's. */
  withheld: readonly string[];
  /** New values for those withheld columns that a row must have. */
  renew: () => Record<string, string>;
  /** The column that says who somebody is, the one its pseudonym is made of, and what the pseudonym calls them. */
  named: { column: string; by: string; is: string } | null;
  /** What the JSON columns hold. */
  json: Readonly<Record<string, z.ZodType>>;
}

const table = (
  name: keyof typeof SCOPES,
  model: keyof Models,
  special: Partial<Omit<BundledTable, "name" | "model" | "scope">> = {},
): BundledTable => ({
  ...{ name, model, scope: SCOPES[name], key: "id", keyType: "uuid", isOfEdition: false, references: {} },
  ...{ withheld: [], renew: () => ({}), named: null, json: {} },
  ...special,
});

/** What is kept as it came, and shown as text. */
const Anything = z.json();
const Content = z.record(z.string(), z.json());

/** Ordered so that each row comes after those it refers to; an entrant and its present version refer to each other. */
export const BUNDLED_TABLES: readonly BundledTable[] = [
  table("suites", "Suite"),
  table("editions", "Edition", { references: { suite_id: "suites" }, json: { content: SuiteDefinition } }),
  table("wordings", "Wording", { references: { suite_id: "suites" }, json: { content: Content } }),
  table("prompts", "Prompt", {
    references: { edition_id: "editions", wording_id: "wordings" },
    json: { content: PromptDefinition },
  }),
  table("endpoints", "Endpoint"),
  table("entrants", "Entrant", {
    references: { endpoint_id: "endpoints", predecessor_id: "entrants", version_id: "entrant_versions" },
    json: { settings: Settings, prices: Prices.nullable(), aliases: z.array(z.string()) },
  }),
  table("entrant_versions", "EntrantVersion", {
    references: { entrant_id: "entrants", endpoint_id: "endpoints" },
    json: { settings: Settings },
  }),
  table("redos", "Redo", { references: { edition_id: "editions" } }),
  table("runs", "Run", {
    references: { edition_id: "editions", redo_id: "redos" },
    json: { options: z.looseObject({ options: RunOptions.optional() }) },
  }),
  table("generations", "Generation", {
    references: {
      ...{ run_id: "runs", entrant_id: "entrants", version_id: "entrant_versions", wording_id: "wordings" },
      ...{ endpoint_id: "endpoints", redo_id: "redos", superseded_by: "redos" },
    },
    withheld: ["is_mismatch"],
    json: {
      ...{ request: Anything, usage: Usage.nullable(), timings: Timings.nullable() },
      ...{ failures: z.array(Failure), follow_up: FollowUp.nullable() },
    },
  }),
  table("attempts", "Attempt", {
    references: { generation_id: "generations" },
    json: { request: Anything, headers: Anything, usage: Usage.nullable() },
  }),
  table("entries", "Entry", {
    references: { generation_id: "generations", edited_from: "entries" },
    withheld: ["stage_page"],
    json: { files: z.array(EntryFile), trace: z.array(TraceStep), facts: ArtifactFacts },
  }),
  table("renders", "Render", {
    references: { entry_id: "entries" },
    withheld: [
      "shows_nothing",
      "renderer_version",
      "has_error",
      "faults",
      "motion",
      "middle_picture",
      "likeness",
      "needs",
    ],
    json: { recording: Recording.nullable() },
  }),
  table("booth_exclusions", "BoothExclusion", { key: "entry_id", references: { entry_id: "entries" } }),
  table("score_sheets", "ScoreSheet", {
    references: { entry_id: "entries" },
    named: { column: "judge", by: "judge", is: "judge" },
    json: { watchpoints: ScoreSheetInput.shape.watchpoints, tags: ScoreSheetInput.shape.tags },
  }),
  table("panels", "Panel", {
    references: { edition_id: "editions", newcomer_id: "entrants" },
    withheld: ["token"],
    renew: () => ({ token: createToken() }),
  }),
  table("voters", "Voter", {
    references: { panel_id: "panels" },
    withheld: ["token_hash", "personal_token", "joined_from"],
    renew: () => ({ token_hash: hashToken(createToken()) }),
    named: { column: "name", by: "id", is: "voter" },
  }),
  table("bouts", "Bout", {
    references: {
      ...{ voter_id: "voters", prompt_id: "prompts", wording_id: "wordings", left_entry_id: "entries" },
      ...{ right_entry_id: "entries", left_version_id: "entrant_versions", right_version_id: "entrant_versions" },
    },
    withheld: ["token", "left_token", "right_token", "cast_lean"],
    renew: () => ({ token: createToken(), left_token: createToken(), right_token: createToken() }),
  }),
  table("ballots", "Ballot", {
    references: { bout_id: "bouts" },
    json: { reasons: z.array(Reason), seen_with: SeenWith.nullable() },
  }),
  table("audit_trail", "AuditLine", {
    keyType: "bigint",
    references: { panel_id: "panels", voter_id: "voters" },
    withheld: ["id"],
    json: { detail: Content },
  }),
  table("stopping_plans", "StoppingPlan", { references: { edition_id: "editions" }, json: { goal: StoppingGoal } }),
  table("standings_views", "StandingsView", { references: { suite_id: "suites" }, json: { counts: WhatCounts } }),
  table("standings_snapshots", "StandingsSnapshot", {
    references: { edition_id: "editions" },
    json: { counts: WhatCounts, rows: z.array(Standing) },
  }),
  table("rating_snapshots", "RatingSnapshot", {
    ...{ key: "input_digest", keyType: "text", isOfEdition: true, references: { edition_id: "editions" } },
    json: { ratings: Anything },
  }),
];

/** Where a table's rows stand in a bundle. */
export const recordsPath = (table: string): string => `records/${table}.jsonl`;

/** The digests of the pictures that a recording names, in a row of `renders` as JSON. A quote in a text of a page's is escaped, so no text is taken for one. */
export const listPictures = (line: string): string[] =>
  [...line.matchAll(/"([0-9a-f]{64})\.webp"/g)].map(([, digest]) => digest!);
