export { API, blobParams, SessionState } from "./api.js";
export { Id, Instant, Key, Problem, Sha256 } from "./common.js";
export {
  ConnectionTest,
  EndpointReference,
  Entrant,
  EntrantInput,
  EntrantsDefinition,
  EntrantsImport,
  EntrantsImportResult,
  Prices,
  Settings,
} from "./entrant.js";
export {
  ArtifactKind,
  EntryDetail,
  EntryFile,
  EntrySummary,
  HandAnswer,
  HandAnswerResult,
  TraceStep,
  Verdict,
} from "./entry.js";
export { Leak, MissingReference, ReferenceKind, RemoteReference, RuleBreak } from "./extraction.js";
export { ExtractJob, Failure, FailureCause, GenerateJob, GenerationState, Timings, Usage } from "./generation.js";
export { type Access, defineOperation, type Operation } from "./operation.js";
export {
  BlockedRequest,
  Finding,
  FindingRule,
  Frame,
  Isolation,
  LogLine,
  Metrics,
  Recording,
  RecordingPlan,
  Render,
  RenderFinishedJob,
  RenderJob,
  RenderOutcome,
} from "./render.js";
export { Run, RunCounts, RunDetail, RunInput } from "./run.js";
export { Course, Standing, Standings } from "./standings.js";
export {
  Edition,
  EditionSummary,
  Kind,
  Prompt,
  PromptDefinition,
  Rules,
  SuiteDefinition,
  SuiteImport,
  SuiteImportResult,
  Viewport,
  WalkthroughStep,
} from "./suite.js";
export {
  BallotInput,
  BallotReceipt,
  BoothQueue,
  BoothState,
  Bout,
  Panel,
  PanelInput,
  Reason,
  Token,
  VoterInput,
} from "./voting.js";
export { CellState, Wall, WallCell } from "./wall.js";
