import type { Logger } from "pino";
import { join } from "node:path";
import { createAuthRepository } from "./auth/repository.js";
import { createAuthService } from "./auth/service.js";
import { createFolderBlobStore, openShelf } from "@tourney/store";
import type { Config } from "./config.js";
import { createCourseService } from "./course/service.js";
import type { Database } from "./db/connection.js";
import { createEntrantRepository } from "./entrants/repository.js";
import { createEntrantService, type ReadKey } from "./entrants/service.js";
import { createEntryRepository } from "./entries/repository.js";
import { createMendRepository } from "./entries/mend-repository.js";
import { createEntryService } from "./entries/service.js";
import { createLiveAddresses } from "./exhibit/live-address.js";
import { createExhibitRepository } from "./exhibit/repository.js";
import { createGenerationRepository } from "./generations/repository.js";
import { createConnectionTester } from "./generations/test-connection.js";
import { createAddJob } from "./jobs/queue.js";
import { createRenderRepository } from "./renders/repository.js";
import { createRenderService } from "./renders/service.js";
import { createRunRepository } from "./runs/repository.js";
import { createRunService } from "./runs/service.js";
import { createStandingsRepository } from "./standings/repository.js";
import { createStandingsService } from "./standings/service.js";
import { createSuiteRepository } from "./suites/repository.js";
import { createSuiteService } from "./suites/service.js";
import { createAuditRepository } from "./voting/audit-repository.js";
import { createTellOfBallots } from "./voting/ballot-notice.js";
import { createBallotListRepository } from "./voting/ballot-list-repository.js";
import { createBallotListService } from "./voting/ballot-list-service.js";
import { createBoothRepository } from "./voting/booth-repository.js";
import { createBoothService } from "./voting/booth-service.js";
import { createTurnRepository } from "./voting/turn-repository.js";
import { createPanelRepository } from "./voting/panel-repository.js";
import { createPanelService } from "./voting/panel-service.js";
import { createReportRepository } from "./voting/report-repository.js";
import { createReportService } from "./voting/report-service.js";
import { createWallRepository } from "./wall/repository.js";
import { createWallService } from "./wall/service.js";

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
  const blobs = createFolderBlobStore(join(config.dataDir, "blobs"));
  const shelf = openShelf(config.shelfDir);
  const live = createLiveAddresses(config);
  const entryRepository = createEntryRepository(db);
  const panelRepository = createPanelRepository(db);
  const auth = createAuthService(createAuthRepository(db), config);
  const suites = createSuiteService(createSuiteRepository(db));
  const entrantRepository = createEntrantRepository(db);
  const entrants = createEntrantService(entrantRepository, readKey, db);
  const extractDeps = { db, entries: entryRepository, blobs, addJob, log };
  const mends = createMendRepository(db);
  const entries = createEntryService({ ...extractDeps, live, mends });
  const renders = createRenderService({ ...extractDeps, renders: createRenderRepository(db) });
  const generations = createGenerationRepository(db);
  const runs = createRunService({ db, runs: createRunRepository(db), generations, entrants, suites, addJob });
  const wall = createWallService({ wall: createWallRepository(db), suites, entrants });
  const standings = createStandingsService({ standings: createStandingsRepository(db), suites, wall });
  const course = createCourseService({ suites, entrants, wall, standings });
  const audit = createAuditRepository(db);
  const tellOfBallots = createTellOfBallots({ db, log });
  const panels = createPanelService({
    db,
    panels: panelRepository,
    audit,
    tellOfBallots,
    suites,
    entries,
    appOrigin: config.appOrigin,
  });
  const votingReport = createReportService({ reports: createReportRepository(db), suites });
  const ballotList = createBallotListService({
    db,
    ballots: createBallotListRepository(db),
    audit,
    tellOfBallots,
    suites,
  });
  const booth = createBoothService({
    db,
    panels: panelRepository,
    booth: createBoothRepository(db),
    turns: createTurnRepository(db),
    audit,
    tellOfBallots,
    standings,
    stageOrigin: config.stageOrigin,
    appOrigin: config.appOrigin,
  });
  return {
    addJob,
    auth,
    ballotList,
    blobs,
    booth,
    course,
    entrants,
    entries,
    extractDeps,
    live,
    mends,
    panels,
    renders,
    runs,
    shelf,
    standings,
    suites,
    votingReport,
    wall,
    testConnection: createConnectionTester(readKey),
    generations,
    moveEndpoint: entrantRepository.moveEndpoint,
    findFiles: entryRepository.findFiles,
    listKnownNames: () => entryRepository.listKnownNames(),
    ...createExhibitRepository(db),
  };
}
export type Services = ReturnType<typeof createServices>;
