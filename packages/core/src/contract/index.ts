export { API, blobParams, SessionState } from "./api.js";
export { Contest, ContestResults, FormContest, FormTally, PagesContest, Placement, TakesContest } from "./contest.js";
export { ComparableEntry } from "./compare.js";
export { LONGEST_SEARCH, SearchHit, SearchSort, splitWords } from "./search.js";
export { Id, Instant, Key, Problem, Sha256 } from "./common.js";
export {
  ConnectionTest,
  EndpointReference,
  Entrant,
  EntrantInput,
  EntrantSetUp,
  EntrantVersions,
  EntrantsDefinition,
  EntrantsImport,
  EntrantsImportResult,
  Price,
  Prices,
  Protocol,
  PROTOCOL_LABELS,
  ReachedProtocol,
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
  AnswerMarks,
  HandAnswer,
  MendRequest,
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
export { type Access, defineOperation, type Operation, TokenScope } from "./operation.js";
export {
  BlockedRequest,
  ControlResult,
  Finding,
  FindingRule,
  Frame,
  FurtherView,
  HungIn,
  Isolation,
  LogLine,
  Metrics,
  RealTime,
  RecordAgain,
  Recording,
  RecordingPlan,
  Render,
  RENDERER_VERSION,
  RenderFinishedJob,
  RenderJob,
  RenderOutcome,
  Section,
  Sprite,
  Stability,
  StepResult,
  StressTest,
  Substitution,
  WholePage,
  PictureFile,
} from "./render.js";
export { RenderQueue, renderParams, RenderScope, Worker } from "./render-operations.js";
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
export {
  BasisPart,
  type CategoryRatings,
  Course,
  DemoProgress,
  Forecast,
  Health,
  PartedBasis,
  PartName,
  PromptRatings,
  Standing,
  Standings,
  Mending,
  RatingsBySeeing,
  RatingsOverTime,
  StandingsBasis,
  Succession,
} from "./standings.js";
export { BUNDLE_FORMAT, BundledEntry, BundleManifest } from "./bundle.js";
export { BallotChange, StandingsChanges, StandingsSnapshot } from "./snapshot.js";
export { ReportLink } from "./report-operations.js";
export { StoppingGoal, StoppingLook, StoppingPlan, StoppingPlanInput, StoppingState } from "./stopping.js";
export { EVERYTHING, StandingsView, StandingsViewInput, WhatCounts } from "./what-counts.js";
export {
  listTargets,
  DEFAULT_MEND_TEMPLATE,
  Edition,
  EditionSummary,
  Kind,
  MEND_PLACEHOLDER,
  Prompt,
  PromptDefinition,
  Rules,
  PresentSuiteDefinition,
  PromptPart,
  type Recipe,
  SuiteDefinition,
  SuiteDifference,
  SuiteDraft,
  SuiteFile,
  SuiteImport,
  SuiteImportResult,
  SuitePreview,
  SuiteText,
  Wording,
  Target,
  Viewport,
  WalkthroughStep,
  Watchpoint,
  watchpointText,
} from "./suite.js";
export { type Chord, type KeyDefinition, modifierKey, MODIFIERS, readChord } from "./keys.js";
export { type KindDescriptor, KINDS } from "./kinds.js";
export { ApiToken, ApiTokenInput } from "./api-token.js";
export { EXIT_CODES, PipelineEnd, PipelineEntrant, RUN_REPORT_FORMAT, RunReport } from "./pipeline.js";
export { Redo, RedoRequest } from "./redo.js";
export {
  JudgeAgreement,
  JudgedEntry,
  JudgeName,
  Judging,
  ScoreSheet,
  ScoreSheetInput,
  SheetVerdict,
  WatchpointMark,
} from "./score-sheet.js";
export {
  AuditLine,
  BallotFilter,
  BallotInput,
  BallotLine,
  BallotList,
  BallotScope,
  SeenWith,
  BallotReceipt,
  BoothQueue,
  BoothState,
  Bout,
  BrokenRule,
  UndeliveredRule,
  Panel,
  PanelChange,
  PanelInput,
  PanelVoter,
  Reason,
  SkipReason,
  Token,
  VoterInput,
  VoterReliability,
  VotingReport,
} from "./voting.js";
export {
  CellState,
  Grid,
  Strip,
  type StripFrame,
  Wall,
  WallAnswer,
  WallCell,
  CompetitorVersion,
  Delivery,
} from "./wall.js";
