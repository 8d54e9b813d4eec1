import { Sequelize } from "sequelize";
import { defineApiToken } from "./models/api-token-model.js";
import { defineAttempt } from "./models/attempt-model.js";
import { defineAuditLine } from "./models/audit-line-model.js";
import { defineBallot } from "./models/ballot-model.js";
import { defineBoothExclusion } from "./models/booth-exclusion-model.js";
import { defineBout } from "./models/bout-model.js";
import { defineCountedVoter } from "./models/counted-voter-model.js";
import { defineEdition } from "./models/edition-model.js";
import { defineCircuit } from "./models/circuit-model.js";
import { defineEndpoint } from "./models/endpoint-model.js";
import { defineEntrant } from "./models/entrant-model.js";
import { defineEntrantVersion } from "./models/entrant-version-model.js";
import { defineEntry } from "./models/entry-model.js";
import { defineEntryOutcome } from "./models/entry-outcome-model.js";
import { defineGeneration } from "./models/generation-model.js";
import { definePanel } from "./models/panel-model.js";
import { definePrompt } from "./models/prompt-model.js";
import { defineRatingSnapshot } from "./models/rating-snapshot-model.js";
import { defineRedo } from "./models/redo-model.js";
import { defineRender } from "./models/render-model.js";
import { defineKeyBinding } from "./models/key-binding-model.js";
import { defineReportLink } from "./models/report-link-model.js";
import { defineRun } from "./models/run-model.js";
import { defineScoreSheet } from "./models/score-sheet-model.js";
import { defineSession } from "./models/session-model.js";
import { defineSignInLink } from "./models/sign-in-link-model.js";
import { defineStandingsSnapshot } from "./models/standings-snapshot-model.js";
import { defineStoppingPlan } from "./models/stopping-plan-model.js";
import { defineStandingsView } from "./models/standings-view-model.js";
import { defineStreamPart } from "./models/stream-part-model.js";
import { defineSuite } from "./models/suite-model.js";
import { defineSuiteDraft } from "./models/suite-draft-model.js";
import { defineVoter } from "./models/voter-model.js";
import { defineWording } from "./models/wording-model.js";
import { defineWorker } from "./models/worker-model.js";

const defineAll = (sequelize: Sequelize) => ({
  Suite: defineSuite(sequelize),
  SuiteDraft: defineSuiteDraft(sequelize),
  Edition: defineEdition(sequelize),
  Prompt: definePrompt(sequelize),
  Wording: defineWording(sequelize),
  Circuit: defineCircuit(sequelize),
  KeyBinding: defineKeyBinding(sequelize),
  Endpoint: defineEndpoint(sequelize),
  Entrant: defineEntrant(sequelize),
  EntrantVersion: defineEntrantVersion(sequelize),
  Run: defineRun(sequelize),
  Redo: defineRedo(sequelize),
  Generation: defineGeneration(sequelize),
  Attempt: defineAttempt(sequelize),
  StreamPart: defineStreamPart(sequelize),
  Entry: defineEntry(sequelize),
  EntryOutcome: defineEntryOutcome(sequelize),
  Render: defineRender(sequelize),
  Panel: definePanel(sequelize),
  Voter: defineVoter(sequelize),
  Bout: defineBout(sequelize),
  Ballot: defineBallot(sequelize),
  BoothExclusion: defineBoothExclusion(sequelize),
  AuditLine: defineAuditLine(sequelize),
  ScoreSheet: defineScoreSheet(sequelize),
  CountedVoter: defineCountedVoter(sequelize),
  RatingSnapshot: defineRatingSnapshot(sequelize),
  StandingsSnapshot: defineStandingsSnapshot(sequelize),
  StandingsView: defineStandingsView(sequelize),
  StoppingPlan: defineStoppingPlan(sequelize),
  ReportLink: defineReportLink(sequelize),
  Worker: defineWorker(sequelize),
  SignInLink: defineSignInLink(sequelize),
  Session: defineSession(sequelize),
  ApiToken: defineApiToken(sequelize),
});

/** The models of all tables on one connection, with what hangs on what. */
export function defineModels(sequelize: Sequelize) {
  const models = defineAll(sequelize);
  associate(models);
  return models;
}
/** The models without a database, for what is said of them. */
export const describeModels = () => defineModels(new Sequelize({ dialect: "postgres" }));
export type Models = ReturnType<typeof defineModels>;

/** Every reference between tables, once. Tallies have none: they are derived, and written by triggers alone. */
function associate(m: ReturnType<typeof defineAll>): void {
  m.Edition.belongsTo(m.Suite, { as: "suite", foreignKey: "suiteId" });
  m.Wording.belongsTo(m.Suite, { as: "suite", foreignKey: "suiteId" });
  m.Suite.hasMany(m.Edition, { as: "editions", foreignKey: "suiteId" });
  m.Prompt.belongsTo(m.Edition, { as: "edition", foreignKey: "editionId" });
  m.Edition.hasMany(m.Prompt, { as: "prompts", foreignKey: "editionId" });
  m.Prompt.belongsTo(m.Wording, { as: "wording", foreignKey: "wordingId" });
  m.Wording.hasMany(m.Prompt, { as: "prompts", foreignKey: "wordingId" });

  m.Entrant.belongsTo(m.Endpoint, { as: "endpoint", foreignKey: "endpointId" });
  m.Entrant.belongsTo(m.Entrant, { as: "predecessor", foreignKey: "predecessorId" });
  m.Entrant.belongsTo(m.EntrantVersion, { as: "version", foreignKey: "versionId" });
  m.Entrant.hasMany(m.EntrantVersion, { as: "versions", foreignKey: "entrantId" });
  m.EntrantVersion.belongsTo(m.Endpoint, { as: "endpoint", foreignKey: "endpointId" });

  m.Run.belongsTo(m.Edition, { as: "edition", foreignKey: "editionId" });
  m.Run.belongsTo(m.Redo, { as: "redo", foreignKey: "redoId" });
  m.Redo.belongsTo(m.Edition, { as: "edition", foreignKey: "editionId" });
  m.Generation.belongsTo(m.Run, { as: "run", foreignKey: "runId" });
  m.Generation.belongsTo(m.Wording, { as: "wording", foreignKey: "wordingId" });
  m.Generation.belongsTo(m.Entrant, { as: "entrant", foreignKey: "entrantId" });
  m.Generation.belongsTo(m.EntrantVersion, { as: "version", foreignKey: "versionId" });
  m.Generation.belongsTo(m.Endpoint, { as: "endpoint", foreignKey: "endpointId" });
  m.Generation.hasMany(m.Attempt, { as: "requests", foreignKey: "generationId" });
  m.Generation.hasMany(m.Entry, { as: "entries", foreignKey: "generationId" });
  m.StreamPart.belongsTo(m.Attempt, { as: "attempt", foreignKey: "attemptId" });

  m.Entry.belongsTo(m.Generation, { as: "generation", foreignKey: "generationId" });
  m.Entry.hasMany(m.Render, { as: "renders", foreignKey: "entryId" });
  m.Entry.hasOne(m.BoothExclusion, { as: "exclusion", foreignKey: "entryId" });
  m.Entry.hasMany(m.ScoreSheet, { as: "sheets", foreignKey: "entryId" });
  m.ScoreSheet.belongsTo(m.Entry, { as: "entry", foreignKey: "entryId" });
  m.Render.belongsTo(m.Entry, { as: "entry", foreignKey: "entryId" });

  m.Panel.belongsTo(m.Edition, { as: "edition", foreignKey: "editionId" });
  m.Panel.hasMany(m.Voter, { as: "voters", foreignKey: "panelId" });
  m.Voter.belongsTo(m.Panel, { as: "panel", foreignKey: "panelId" });
  m.Bout.belongsTo(m.Voter, { as: "voter", foreignKey: "voterId" });
  m.Bout.belongsTo(m.Prompt, { as: "prompt", foreignKey: "promptId" });
  m.Bout.belongsTo(m.Entry, { as: "leftEntry", foreignKey: "leftEntryId" });
  m.Bout.belongsTo(m.Entry, { as: "rightEntry", foreignKey: "rightEntryId" });
  m.Bout.hasMany(m.Ballot, { as: "ballots", foreignKey: "boutId" });
  m.Ballot.belongsTo(m.Bout, { as: "bout", foreignKey: "boutId" });
}
