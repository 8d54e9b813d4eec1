import {
  type EntryFile,
  ExtractJob,
  type Recipe,
  RecordingPlan,
  RenderFinishedJob,
  type Verdict,
} from "@tourney/core/contract";
import { toTourneyError } from "@tourney/core/errors";
import type { Extraction } from "@tourney/core/extraction";
import { composeMendText } from "@tourney/core/generation";
import type { Logger } from "pino";
import type { BlobStore } from "@tourney/store";
import type { Database, Transaction } from "../db/connection.js";
import type { AddJob } from "../jobs/queue.js";
import { type Readers, TooCostly } from "../reading/readers.js";
import { withoutFiles } from "../reading/without-files.js";
import type { StagePages } from "../exhibit/stage-pages.js";
import type { AnswerRow } from "./entry-queries.sql.js";
import type { FollowUpRepository } from "./follow-up-repository.js";
import type { Artifact, EntryRepository } from "./repository.js";

/** Pictures of a filmstrip. */
const FRAMES = 12;
/** The seed of every recording's random numbers: one for all, so that entries are compared under equal luck. */
const RENDER_SEED = 1;

export interface ExtractDeps {
  db: Database;
  entries: EntryRepository;
  blobs: BlobStore;
  addJob: AddJob;
  readers: Readers;
  log: Logger;
}

/**
 * Takes the artifact out of a stored answer, keeps its files, and queues its recording. Files are written before the
 * transaction: they go by their digest, so a repeat writes nothing new, and a full disk leaves the answer as it is.
 */
export async function extractEntry(
  generationId: string,
  deps: ExtractDeps,
): Promise<{ entryId: string; verdict: Verdict } | null> {
  const { db, entries, log } = deps;
  const found = await entries.findAnswer(generationId);
  if (found === null) return null;
  const artifact = await takeOut(found, deps);
  const entryId = await db.transact(async (transaction) => {
    const added = await entries.addEntry(generationId, artifact, transaction);
    await queueFirstRender({ entryId: added, found, artifact }, deps, transaction);
    return added;
  });
  const { verdict, kind } = artifact;
  log.info({ generationId, entryId, verdict, kind }, "artifact taken out");
  return { entryId, verdict };
}

/**
 * Takes the artifact out of an answer and stores its files.
 * @param choose the label of the part that is to be the page, where a person chose one.
 */
export async function takeOut(
  found: AnswerRow,
  { entries, blobs, readers }: Pick<ExtractDeps, "entries" | "blobs" | "readers">,
  choose?: string,
): Promise<Artifact> {
  const { starterFiles, rules } = found.wording;
  const options = {
    stopReason: found.finishReason,
    rules,
    names: await entries.listKnownNames(),
    ...(choose === undefined ? {} : { choose }),
  };
  const extracted = await readers.read("extract", { answer: found.parts ?? found.answer, options }).catch(withoutFiles);
  const { verdict, kind, entry, files, trace } = await makeRunnable(extracted, readers);
  const { missing, remote, ruleBreaks, leaks, choices } = extracted;
  const isGiven = (path: string) =>
    starterFiles.some((file) => file.path === path.replace(/^\.\//, "").split(/[?#]/, 1)[0]);
  const facts = { remote, ruleBreaks, leaks, choices, missing: missing.filter(({ path }) => !isGiven(path)) };
  const kept: EntryFile[] = [];
  for (const { path, text } of withStarterFiles(files, entry === null ? [] : starterFiles)) {
    const bytes = Buffer.from(text, "utf8");
    kept.push({ path, bytes: bytes.length, sha256: await blobs.put(bytes) });
  }
  return { verdict, kind, entryPath: entry, files: kept, trace, facts };
}

/** Queues the recording of an artifact that has just been taken out, if a browser can open it. */
export async function queueFirstRender(
  { entryId, found, artifact }: { entryId: string; found: AnswerRow; artifact: Artifact },
  deps: Pick<ExtractDeps, "entries" | "addJob">,
  transaction: Transaction,
): Promise<void> {
  const { entryPath, files } = artifact;
  const { prompt: recipe, recipeDigest } = found;
  const priority = rankRecording(found);
  if (entryPath !== null)
    await queueRender({ entryId, entryPath, files, recipe, recipeDigest, priority }, deps, transaction);
}

const MOST_PROMPTS = 1000;
/** The queue keeps priorities in two bytes. */
const LAST_PRIORITY = 32_767;

/**
 * The priority of a first recording. Rows of the wall are completed one after the other, so that people can vote on the first rows while
 * the others are recorded: first takes before second ones, and first shots before what was mended.
 */
export const rankRecording = ({ take, round, position }: Pick<AnswerRow, "take" | "round" | "position">): number =>
  Math.min(LAST_PRIORITY, (take - 1 + Math.min(round, 1)) * MOST_PROMPTS + Math.min(position, MOST_PROMPTS - 1));

/** A component is wrapped into a page that shows it; what cannot be wrapped is nothing a browser can run. */
async function makeRunnable(
  extracted: Extraction,
  readers: Readers,
): Promise<Pick<Extraction, "verdict" | "kind" | "entry" | "files" | "trace">> {
  const { verdict, kind, entry, files, trace } = extracted;
  if (kind !== "component" || entry === null) return extracted;
  const bundled = await readers.read("bundle", { files, entry }).catch((thrown: unknown) => {
    if (thrown instanceof TooCostly) return { ok: false as const, errors: [`wrapping it ${thrown.why}`] };
    throw thrown;
  });
  if (bundled.ok) {
    const note = {
      part: entry,
      action: "noted" as const,
      why: `it is a component; it was wrapped into ${COMPONENT_PAGE} with its framework`,
    };
    const page = { path: COMPONENT_PAGE, text: bundled.page, from: files[0]!.from };
    return {
      verdict,
      kind,
      entry: COMPONENT_PAGE,
      files: [page, ...files.filter(({ path }) => path !== COMPONENT_PAGE)],
      trace: [...trace, note],
    };
  }
  const why = `it is a component that cannot be wrapped into a page: ${bundled.errors.join("; ")}`;
  return {
    verdict: "no_artifact",
    kind: "none",
    entry: null,
    files: [],
    trace: [...trace, { part: entry, action: "noted", why }],
  };
}

const COMPONENT_PAGE = "index.html";

/** The files of an artifact over those that the prompt gave to the model: what it does not bring itself stays as it was. */
const withStarterFiles = (
  files: readonly { path: string; text: string }[],
  starter: readonly { path: string; text: string }[],
): { path: string; text: string }[] => [
  ...files,
  ...starter.filter(({ path }) => !files.some((file) => file.path.toLowerCase() === path.toLowerCase())),
];

/** One recording in ten is repeated and compared, and so is every flagged one. */
const REPEATED_ONE_IN = 10;

/** Whether a recording is one of the ten: by its random id, so that nothing about the entry decides. */
const isSampled = (renderId: string): boolean => Number.parseInt(renderId.slice(0, 8), 16) % REPEATED_ONE_IN === 0;

export interface RenderRequest {
  entryId: string;
  entryPath: string;
  files: EntryFile[];
  recipe: Recipe;
  recipeDigest: string;
  /** Whether its load is turned up as well. */
  stress?: boolean;
  /** Of its job. What a person asks for by itself comes before everything else. */
  priority?: number;
}

/** Queues a recording of an entry; resolves with the render's id. */
export async function queueRender(
  { entryId, entryPath, files, recipe, recipeDigest, stress = false, priority = -1 }: RenderRequest,
  { entries, addJob }: Pick<ExtractDeps, "entries" | "addJob">,
  transaction: Transaction,
): Promise<string> {
  const renderId = await entries.addRender(entryId, recipeDigest, transaction);
  const { viewport, furtherViewports, seconds, motion, walkthrough, kind } = recipe;
  const plan = RecordingPlan.parse({
    viewport,
    furtherViewports,
    seconds,
    frames: FRAMES,
    seed: RENDER_SEED,
    motionExpected: motion,
    kind,
    walkthrough,
    repeats: isSampled(renderId) ? 2 : 1,
    repeatFlagged: true,
    realTime: motion,
    stress,
  });
  await addJob("render", { renderId, entryPath, files, plan }, { key: `render:${renderId}`, priority, transaction });
  return renderId;
}

/**
 * The `extract` job. What goes wrong on our side (a full disk) is noted on the generation, so that its cell can say it;
 * the queue tries again, and the answer stays stored all the while.
 */
export const createExtractJob =
  (deps: ExtractDeps) =>
  async (payload: unknown): Promise<void> => {
    const { generationId } = ExtractJob.parse(payload);
    try {
      await extractEntry(generationId, deps);
    } catch (thrown) {
      const { message, remedy } = toTourneyError(thrown);
      await deps.entries.noteFailure(generationId, {
        cause: "storage",
        message,
        remedy,
        httpStatus: null,
        at: new Date().toISOString(),
      });
      throw thrown;
    }
  };

/**
 * The `render-finished` job: the render worker reports through the queue, since it may write nothing else. An entry with
 * errors goes into its next mend round, if its run has one left.
 */
export const createRenderFinishedJob =
  ({
    db,
    entries,
    followUps,
    addJob,
    readers,
    stagePages,
    log,
  }: Pick<ExtractDeps, "db" | "addJob" | "readers" | "log"> & {
    entries: EntryRepository;
    followUps: FollowUpRepository;
    stagePages: StagePages;
  }) =>
  async (payload: unknown): Promise<void> => {
    const finished = RenderFinishedJob.parse(payload);
    // From now on it may be voted on: no voter waits for it.
    if (finished.recording !== null) await stagePages.prepareRecorded(finished.renderId);
    const text = finished.recording?.shownText ?? "";
    const names = await entries.listKnownNames();
    await entries.finishRender(finished, await readers.read("findShownLeaks", { text, names }));
    log.info(
      { renderId: finished.renderId, outcome: finished.recording?.outcome ?? "failed", error: finished.error },
      "recorded",
    );
    if (finished.recording === null) return;
    const entry = await followUps.findRecorded(finished.renderId);
    const asked = entry === null ? null : composeMendText(entry.mendTemplate, finished.recording.findings);
    if (entry === null || asked === null || entry.mends >= entry.options.mendRounds) return;
    await db.transact(async (transaction) => {
      const added = await followUps.add(entry.generationId, { kind: "mend", text: asked }, { transaction });
      if (added) await addJob("dispatch", {}, { key: "dispatch", transaction });
    });
  };
