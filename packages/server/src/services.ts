import type { Logger } from "pino";
import { join } from "node:path";
import { AuthRepository } from "./auth/repository.js";
import { createAuthService } from "./auth/service.js";
import { createFolderBlobStore, createRoom, openShelf } from "@tourney/store";
import { ballotsDirOf, type Config } from "./config.js";
import { CompareRepository } from "./compare/repository.js";
import { createCompareService } from "./compare/service.js";
import { SearchRepository } from "./search/repository.js";
import { createSearchService } from "./search/service.js";
import { createCourseService } from "./course/service.js";
import { DemoRepository } from "./demo/demo-repository.js";
import type { Database } from "./db/connection.js";
import { EntryRepository } from "./entries/repository.js";
import { FollowUpRepository } from "./entries/follow-up-repository.js";
import { createFollowUpService } from "./entries/follow-up-service.js";
import { createJudgementService } from "./entries/judgement-service.js";
import { createEntryService } from "./entries/service.js";
import { TokenRepository } from "./auth/token-repository.js";
import { createTokenService } from "./auth/token-service.js";
import { BallotImportRepository } from "./imports/ballot-repository.js";
import { createBallotImportService } from "./imports/ballot-service.js";
import { createLiveAddresses } from "./exhibit/live-address.js";
import { createBundleService } from "./bundles/bundle-service.js";
import { createBundleImportService } from "./bundles/import-service.js";
import { BundleRepository } from "./bundles/repository.js";
import { ExportRepository } from "./exports/repository.js";
import { createExportService } from "./exports/service.js";
import { ExhibitRepository } from "./exhibit/repository.js";
import { GenerationStates } from "./generations/generation-states-repository.js";
import { GenerationRepository } from "./generations/repository.js";
import { createConnectionTester } from "./generations/test-connection.js";
import { createAddJob } from "./jobs/queue.js";
import { PipelineRepository } from "./pipeline/repository.js";
import { createPipelineService } from "./pipeline/service.js";
import { KeyBindingRepository } from "./keys/binding-repository.js";
import { createKeyRing, type ReadKey } from "./keys/key-ring.js";
import { createStagePages } from "./exhibit/stage-pages.js";
import { createEndpointFetch } from "./generations/endpoint-fetch.js";
import { createReaders } from "./reading/readers.js";
import { RedoRepository } from "./redos/repository.js";
import { createRedoService } from "./redos/service.js";
import { RenderRepository } from "./renders/repository.js";
import { createRenderService } from "./renders/service.js";
import { ReportLinkRepository } from "./report/link-repository.js";
import { createStandingsReportService } from "./report/service.js";
import { createReportServices } from "./report-services.js";
import { RunRepository } from "./runs/repository.js";
import { createRunService } from "./runs/service.js";
import { SheetRepository } from "./sheets/repository.js";
import { createSheetService } from "./sheets/service.js";
import { SnapshotRepository } from "./standings/snapshot-repository.js";
import { createSnapshotService } from "./standings/snapshot-service.js";
import { AuditRepository } from "./voting/audit-repository.js";
import { createTellOfBallots } from "./voting/ballot-notice.js";
import { BallotListRepository } from "./voting/ballot-list-repository.js";
import { createBallotListService } from "./voting/ballot-list-service.js";
import { BoothRepository } from "./voting/booth-repository.js";
import { createBoothService } from "./voting/booth-service.js";
import { createTurnRepository } from "./voting/turn-repository.js";
import { PanelRepository } from "./voting/panel-repository.js";
import { createPanelService } from "./voting/panel-service.js";

/** Wires repositories and services together, once. */
export function createServices({
  config,
  db,
  log,
  readKey,
}: {
  config: Config;
  db: Database;
  log: Logger;
  readKey: ReadKey;
}) {
  const addJob = createAddJob(db);
  const readers = createReaders();
  const blobsDir = join(config.dataDir, "blobs");
  const blobs = createFolderBlobStore(blobsDir);
  const shelf = openShelf(config.shelfDir);
  const room = createRoom(config.dataDir, { leastBytes: config.leastRoomBytes });
  const live = createLiveAddresses(config);
  const entryRepository = new EntryRepository(db);
  const panelRepository = new PanelRepository(db);
  const exhibits = new ExhibitRepository(db);
  const auth = createAuthService(new AuthRepository(db), config);
  const audit = new AuditRepository(db);
  const keyRing = createKeyRing({ readKey, bindings: new KeyBindingRepository(db), audit, db });
  const endpointFetch = createEndpointFetch(config.localEndpoints);
  const tokens = createTokenService({ db, tokens: new TokenRepository(db), audit });
  const states = new GenerationStates(db);
  const reports = createReportServices({ db, readers, readKey, audit, ballotsDir: ballotsDirOf(config) });
  const { suites, suiteRepository, entrants, entrantRepository, wall, standings } = reports;
  const stagePages = createStagePages({
    ...{ exhibits, readers, log, blobsDir, exhibitOrigin: config.exhibitOrigin },
    listKnownNames: () => entryRepository.listKnownNames(),
  });
  const extractDeps = { db, entries: entryRepository, blobs, addJob, readers, log };
  const tellOfBallots = createTellOfBallots({ db, log });
  const followUps = new FollowUpRepository(db);
  const entries = createEntryService({ ...extractDeps, live, states });
  const renders = createRenderService({ ...extractDeps, renders: new RenderRepository(db) });
  const generations = new GenerationRepository(db, states);
  const runRepository = new RunRepository(db, states);
  const runs = createRunService({
    ...{ db, runs: runRepository, generations, entrants, suites, entries: entryRepository, addJob },
  });
  const followUpService = createFollowUpService({
    ...{ db, followUps, runs: runRepository, suites: suiteRepository, addJob },
  });
  const judgements = createJudgementService({ ...extractDeps, audit, tellOfBallots });
  const redos = createRedoService({
    ...{ db, redos: new RedoRepository(db), runs: runRepository, states, entries: entryRepository },
    ...{ suites, audit, tellOfBallots, addJob },
  });
  const pipeline = createPipelineService({ pipeline: new PipelineRepository(db), suites, entrants, runs, wall });
  const course = createCourseService({ suites, entrants, wall, standings });
  const panels = createPanelService({
    db,
    panels: panelRepository,
    audit,
    tellOfBallots,
    suites,
    entries,
    appOrigin: config.appOrigin,
  });
  const ballotList = createBallotListService({
    db,
    ballots: new BallotListRepository(db),
    audit,
    tellOfBallots,
    suites,
    standings,
  });
  const booth = createBoothService({
    db,
    panels: panelRepository,
    booth: new BoothRepository(db),
    turns: createTurnRepository(db),
    audit,
    tellOfBallots,
    standings,
    stageOrigin: config.stageOrigin,
    joinsFromOnePlace: config.joinsFromOnePlace,
    secret: config.secret,
    appOrigin: config.appOrigin,
  });
  const compare = createCompareService({ compare: new CompareRepository(db) });
  const search = createSearchService({ search: new SearchRepository(db) });
  const exportService = createExportService({
    exports: new ExportRepository(db),
    suites,
    standings,
    secret: config.secret,
  });
  const snapshots = createSnapshotService({
    ...{ snapshots: new SnapshotRepository(db), standings, exports: new ExportRepository(db), suites },
  });
  const bundleRepository = new BundleRepository(db);
  const bundles = createBundleService({
    ...{ bundles: bundleRepository, exportService, suites, entrants, blobs, secret: config.secret },
  });
  const bundleImports = createBundleImportService({ db, bundles: bundleRepository, blobs, audit, room });
  const ballotImports = createBallotImportService({
    ...{ db, imports: new BallotImportRepository(db), audit, tellOfBallots },
  });
  const standingsReport = createStandingsReportService({
    ...{ standings, suites, entrants, wall, blobs },
    links: new ReportLinkRepository(db),
    appOrigin: config.appOrigin,
  });
  const sheets = createSheetService({ sheets: new SheetRepository(db) });
  const demo = new DemoRepository(db);
  return {
    ...reports,
    addJob,
    auth,
    ballotList,
    blobs,
    booth,
    compare,
    search,
    exportService,
    bundles,
    bundleImports,
    ballotImports,
    course,
    demo,
    entries,
    extractDeps,
    keyRing,
    endpointFetch,
    readers,
    live,
    followUps,
    followUpService,
    judgements,
    redos,
    states,
    panels,
    pipeline,
    renders,
    room,
    runs,
    sheets,
    shelf,
    snapshots,
    standingsReport,
    tokens,
    testConnection: createConnectionTester({ keyRing, endpointFetch }),
    generations,
    moveEndpoint: (from: string, to: string) => entrantRepository.moveEndpoint(from, to),
    findFiles: (entryId: string) => entryRepository.findFiles(entryId),
    stagePages,
    findStage: (token: string) => exhibits.findStage(token),
    listPictures: (editionId: string) => exhibits.listPictures(editionId),
    findLongestPage: (editionId: string) => exhibits.findLongestPage(editionId),
  };
}
export type Services = ReturnType<typeof createServices>;
