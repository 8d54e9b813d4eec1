export { API, blobParams, SessionState } from "./api.js";
export { Id, Instant, Key, Problem, Sha256 } from "./common.js";
export {
  ConnectionTest,
  EndpointReference,
  Entrant,
  EntrantInput,
  EntrantSnapshot,
  EntrantVersions,
  EntrantsDefinition,
  EntrantsImport,
  EntrantsImportResult,
  Price,
  Prices,
  type Protocol,
  Settings,
  TimeLimits,
} from "./entrant.js";
export {
  AnswersImportResult,
  ArtifactKind,
  Correction,
  EntryDetail,
  EntryEdit,
  EntryFile,
  EntrySummary,
  HandAnswer,
  HandAnswerResult,
  TraceStep,
  Verdict,
} from "./entry.js";
export { ArtifactFacts, Leak, MissingReference, ReferenceKind, RemoteReference, RuleBreak } from "./extraction.js";
export {
  Attempt,
  AttemptPurpose,
  DispatchJob,
  ExtractJob,
  Failure,
  FailureCause,
  FollowUp,
  GenerateJob,
  GenerationState,
  Outcome,
  Timings,
  Usage,
} from "./generation.js";
export { MOST_YAML_LENGTH, YAML_TOO_LONG } from "./common.js";
export { type InputIssue, listIssues } from "./input-issues.js";
export { type Access, defineOperation, type Operation } from "./operation.js";
export {
  BlockedRequest,
  Finding,
  FindingRule,
  Frame,
  FurtherView,
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
export {
  Run,
  RunChange,
  RunCounts,
  RunDetail,
  RunInput,
  RunOptions,
  RunPlan,
  type RunRequest,
  RunRetry,
  Unlike,
} from "./run.js";
export { Course, Standing, Standings } from "./standings.js";
export {
  DEFAULT_MEND_TEMPLATE,
  Edition,
  EditionSummary,
  Kind,
  MEND_PLACEHOLDER,
  Prompt,
  PromptDefinition,
  Rules,
  SuiteDefinition,
  SuiteDifference,
  SuiteDraft,
  SuiteFile,
  SuiteImport,
  SuiteImportResult,
  SuitePreview,
  Viewport,
  WalkthroughStep,
  Watchpoint,
  watchpointText,
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
export { CellState, Grid, Wall, WallCell } from "./wall.js";
