import {
  type Course,
  EVERYTHING,
  type Entrant,
  type EntryDetail,
  type EditionSummary,
  type Grid,
  type Prompt,
  Recording,
  RENDERER_VERSION,
  type RunDetail,
  type Standing,
  type Standings,
  type WallAnswer,
  type WallCell,
} from "@tourney/core/contract";

export const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, "0")}`;
const SHA = "a".repeat(64);

export const EDITION: EditionSummary = {
  id: id(1),
  suiteKey: "a-suite",
  suiteTitle: "A suite",
  number: 1,
  digest: SHA,
  promptCount: 2,
  generations: 4,
  archived: false,
  sample: true,
  frozenAt: "2026-01-01T00:00:00.000Z",
};

/** Recorded and not voted on. */
export const COURSE: Course = {
  title: EDITION.suiteTitle,
  sample: EDITION.sample,
  edition: EDITION,
  entrants: 8,
  cells: { total: 16, answered: 16, failed: 0, open: 0, costUsd: 0.2 },
  needLook: 3,
  ballots: 0,
  voters: 0,
  leaders: [],
  next: "wall",
};

const entrant = (n: number, name: string) => ({
  id: id(10 + n),
  key: name.toLowerCase(),
  name,
  maker: "Somebody",
  glyph: n,
  sample: true,
});

/** The present version of an entrant of these fixtures. */
const version = (n: number) => ({ id: id(100 + n), number: 1, isPresent: true, until: null });
const DELIVERY = { pages: 1, none: 1, owed: 0 };

const cell = (promptId: string, entrantId: string, more: Partial<WallCell>): WallCell => ({
  promptId,
  entrantId,
  versionId: entrantId === id(11) ? id(101) : id(102),
  take: 1,
  state: "missing",
  detail: null,
  mismatch: false,
  keptFromVoters: false,
  stale: null,
  entryId: null,
  verdict: null,
  answeredAt: null,
  picture: null,
  motion: [],
  findings: [],
  entries: 1,
  ...more,
});

const prompt = (n: number, title: string) => ({
  id: id(20 + n),
  key: title.toLowerCase(),
  title,
  kind: "game" as const,
  viewport: { width: 1280, height: 800 },
  seconds: 6,
  tags: [],
});

export const WALL: WallAnswer = {
  ...{ cursor: "start.1", since: null, emptied: [] },
  edition: EDITION,
  prompts: [prompt(1, "Locks"), prompt(2, "Lamps")],
  entrants: [entrant(1, "Gorse"), entrant(2, "Heath")].map((item) => ({
    ...item,
    version: version(item.glyph),
    delivery: DELIVERY,
    byHand: false,
    retired: false,
    cleanShare: 0.5,
    medianTotalMs: 41_000,
    ...{ tokensPerEntry: 4000, tokensPerSecond: 90 },
    costPerEntryUsd: 0.071,
  })),
  formerVersions: 0,
  takes: 1,
  take: 1,
  rounds: 0,
  round: 0,
  cells: [
    cell(id(21), id(11), {
      state: "recorded",
      entryId: id(31),
      verdict: "ok",
      motion: [0.1],
      picture: "t1.webp",
      findings: [{ rule: "exception", severity: "error", message: "TypeError: x" }],
    }),
    cell(id(21), id(12), { state: "refused", detail: "Declined to answer", entryId: id(32), verdict: "refusal" }),
    cell(id(22), id(11), { state: "failed", detail: "401: Incorrect key" }),
  ],
};

export const GRID: Grid = {
  editionId: EDITION.id,
  prompts: WALL.prompts,
  entrants: WALL.entrants,
  there: [
    [1, 1],
    [1, 0],
  ],
};

const standing = (n: number, name: string, more: Partial<Standing>): Standing => ({
  entrant: entrant(n, name),
  version: version(n),
  delivery: DELIVERY,
  rating: 1500,
  halfWidth: 40,
  rankRange: [1, 2],
  component: 0,
  ballots: 20,
  worksShare: 0.9,
  cleanShare: 0.5,
  costPerEntryUsd: 0.071,
  medianTotalMs: 41_000,
  ...{ tokensPerEntry: 4000, tokensPerSecond: 90 },
  ...more,
});

export const STANDINGS: Standings = {
  edition: EDITION,
  counts: EVERYTHING,
  methodVersion: "test/1",
  ballots: 20,
  sampleBallots: 20,
  voters: 3,
  prompts: 2,
  components: 1,
  side: { points: -0.2, halfWidth: 30 },
  forecasts: [],
  succession: [],
  rows: [
    standing(1, "Gorse", { rating: 1540 }),
    standing(2, "Heath", { rating: 1460 }),
    standing(3, "Sedge", {
      rating: null,
      halfWidth: null,
      rankRange: null,
      component: -1,
      ballots: 0,
      worksShare: null,
    }),
  ],
  sources: [],
  formerVersions: 0,
  setAside: 0,
  brackets: [[0, 1]],
  circles: [],
  headToHead: [
    [20, 0.625, 0.6],
    [0, null, null],
    [0, null, null],
  ],
  countedAt: "2026-01-01T00:00:00.000Z",
};

export const RUN: RunDetail = {
  id: id(50),
  editionId: EDITION.id,
  number: 1,
  takes: 1,
  options: { order: "round-robin", continuations: 3, refusalRetries: 1, mendRounds: 0 },
  budgetUsd: 2,
  createdAt: "2026-01-01T00:00:00.000Z",
  pausedAt: null,
  cancelledAt: null,
  purpose: "takes",
  redoReason: null,
  counts: {
    total: 10,
    waiting: 0,
    queued: 1,
    running: 1,
    answered: 6,
    failed: 2,
    cancelled: 0,
    held: 0,
    untaken: 0,
    recorded: 5,
    toRecord: 6,
  },
  costUsd: 0.5,
  inputTokens: 1000,
  outputTokens: 5000,
  acceptedWhy: null,
  unlike: [],
  outcomes: [
    { outcome: "answered", count: 6 },
    { outcome: "rejected", count: 2 },
  ],
  failures: [
    {
      cause: "unauthorized",
      outcome: "rejected",
      message: "401: Incorrect key",
      remedy: "Check the key.",
      count: 2,
      generationIds: [id(61), id(62)],
      places: [
        { promptTitle: "Locks", entrantName: "Heath", take: 1, attempts: 1 },
        { promptTitle: "Lamps", entrantName: "Heath", take: 1, attempts: 1 },
      ],
    },
  ],
  byEntrant: [
    {
      entrantId: id(11),
      name: "Gorse",
      glyph: 1,
      total: 5,
      answered: 4,
      failed: 0,
      running: 1,
      costUsd: 0.4,
      medianTotalMs: 9000,
      mismatched: 1,
    },
  ],
  byPrompt: [{ promptId: id(21), title: "Locks", total: 5, answered: 3, failed: 1, running: 1 }],
  pace: { answersPerMinute: 3, tokensPerSecond: 80, remainingSeconds: 40 },
  endpoints: [
    {
      id: id(70),
      baseUrl: "https://models.example/v1",
      inFlight: 1,
      concurrency: 2,
      paused: [],
    },
  ],
};

export const PROMPT: Prompt = {
  ...prompt(1, "Locks"),
  summary: "Work a lock.",
  text: "Build a lock.",
  turns: [],
  starterFiles: [],
  tags: [],
  rules: { singleFile: true, libraries: "forbidden", framework: "allowed" },
  furtherViewports: [],
  motion: true,
  walkthrough: [{ atMs: 700, key: "ArrowRight", holdMs: 1200 }],
  watchpoints: ["The gates open", { text: "The water rises", evidence: "motion" }],
};

export const ENTRANT: Entrant = {
  ...entrant(1, "Gorse"),
  aliases: [],
  endpoint: { protocol: "chat-completions", baseUrl: "https://models.example/v1", concurrency: 2 },
  model: "gorse-1",
  settings: {
    temperature: 0.7,
    maxTokens: 16_000,
    timeLimits: { firstTokenSeconds: 120, betweenTokensSeconds: 60, totalSeconds: 900 },
  },
  versionId: id(101),
  version: 1,
  versions: 1,
  retiredAt: null,
  generations: 4,
  keyPresent: null,
  createdAt: "2026-01-01T00:00:00.000Z",
};

const FRAMES = [
  { atMs: 33, sha256: SHA, file: "f0.webp", thumbnail: "t0.webp" },
  { atMs: 6000, sha256: SHA, file: "f1.webp", thumbnail: "t1.webp" },
];

export const ENTRY: EntryDetail = {
  id: id(31),
  verdict: "ok",
  kind: "html",
  entryPath: "index.html",
  files: [{ path: "index.html", bytes: 21, sha256: SHA }],
  take: 1,
  ...{ turn: 1, round: 0, mends: 0, corrections: 0 },
  editionId: EDITION.id,
  version: { id: id(101), number: 1, isPresent: true, model: "gorse-1" },
  superseded: null,
  redone: null,
  mismatch: null,
  handHelp: null,
  offTask: null,
  prompt: PROMPT,
  entrant: entrant(1, "Gorse"),
  trace: [
    { part: "fence 1 (html, lines 3–10)", action: "skipped", why: "it leaves out parts of another version" },
    { part: "fence 2 (html, lines 14–45)", action: "taken", why: "it is the only complete page" },
  ],
  facts: { missing: [], remote: [], ruleBreaks: [], leaks: [], choices: [] },
  handMended: null,
  rounds: [
    {
      entryId: id(31),
      ...{ turn: 1, round: 0, mends: 0, corrections: 0 },
      handMended: false,
      followUp: null,
      state: "answered",
      errors: 1,
    },
  ],
  fileTexts: [{ path: "index.html", text: "<p>a lock with gates" }],
  leftOut: null,
  liveUrl: "http://127.0.0.1:4611/live/token/index.html",
  render: {
    id: id(81),
    state: "recorded",
    error: null,
    finishedAt: "2026-01-01T00:01:00.000Z",
    recording: Recording.parse({
      rendererVersion: RENDERER_VERSION,
      outcome: "ok",
      outcomeDetail: null,
      clock: "begin-frame",
      isolation: { sandbox: true, unprivilegedUser: true, networkNamespace: true, memory: null },
      viewport: { width: 1280, height: 800 },
      seconds: 6,
      seed: 1,
      frames: FRAMES,
      views: [{ viewport: { width: 390, height: 844 }, frame: FRAMES[0]! }],
      findings: [
        {
          rule: "exception",
          severity: "error",
          message: "TypeError: x is undefined",
          atMs: 1200,
          evidence: "index.html:3",
        },
      ],
      console: [{ atMs: 500, level: "info", text: "ready", source: "console", where: null }],
      requests: [],
      metrics: { wallMs: 2100, motion: [0.1], domNodes: 12 },
    }),
  },
  generation: {
    id: id(91),
    state: "answered",
    byHand: false,
    answer: "Here it is.\n\n```html\n<p>a lock with gates\n```",
    reasoning: null,
    admissions: [],
    finishReason: "stop",
    requestedModel: "gorse-1",
    reportedModel: "gorse-1-0425",
    request: { model: "gorse-1" },
    usage: { inputTokens: 158, outputTokens: 954, cachedInputTokens: null, reasoningTokens: null },
    timings: { queuedMs: 5, firstTokenMs: 82, firstTextMs: 82, totalMs: 1300 },
    costUsd: 0.0099,
    attempts: 1,
    failures: [],
    answeredAt: "2026-01-01T00:00:30.000Z",
  },
};
