import type { AuditRepository } from "./voting/audit-repository.js";
import { HeldBallots } from "./ballots/held-ballots.js";
import type { BallotFiles } from "./ballots/voter-file.js";
import type { Stamps } from "./changes/changes.js";
import { ContestRepository } from "./contests/repository.js";
import { createContestService } from "./contests/service.js";
import type { Database } from "./db/connection.js";
import { EntrantRepository } from "./entrants/repository.js";
import { createEntrantService } from "./entrants/service.js";
import type { ReadKey } from "./keys/key-ring.js";
import type { Readers } from "./reading/readers.js";
import { BasisRepository } from "./standings/basis-repository.js";
import { createCounting } from "./standings/counting/counting.js";
import { StandingsRepository } from "./standings/repository.js";
import { createStandingsService } from "./standings/service.js";
import { ViewRepository } from "./standings/view-repository.js";
import { StoppingRepository } from "./stopping/repository.js";
import { createStoppingService } from "./stopping/service.js";
import { SuiteRepository } from "./suites/repository.js";
import { createSuiteService } from "./suites/service.js";
import { ReportRepository } from "./voting/report-repository.js";
import { createReportService } from "./voting/report-service.js";
import { WallRepository } from "./wall/repository.js";
import { createWallService } from "./wall/service.js";

interface ReportParts {
  db: Database;
  readers: Readers;
  readKey: ReadKey;
  audit: AuditRepository;
  /** Where the process that counts ballots writes down those that it holds. */
  ballotsDir: string;
}

/**
 * The services that reports on ballots are made with, and those that these need. The process that makes reports has no others: what it imports takes memory for good.
 */
export function createReportServices({ db, readers, readKey, audit, ballotsDir }: ReportParts) {
  const suiteRepository = new SuiteRepository(db);
  const suites = createSuiteService(suiteRepository, readers);
  const entrantRepository = new EntrantRepository(db);
  const entrants = createEntrantService(entrantRepository, { readKey, readers, db, audit });
  const wall = createWallService({ wall: new WallRepository(db), suites, entrants });
  const counting = createCounting(db.connection, ballotsDir);
  const heldBallots = new HeldBallots(db);
  const basis = new BasisRepository(db, heldBallots);
  const standings = createStandingsService({
    ...{ standings: new StandingsRepository(db, heldBallots), basis, suites, wall, counting },
    views: new ViewRepository(db),
  });
  return {
    ...{ suites, suiteRepository, entrants, entrantRepository, wall, counting, standings },
    votingReport: createReportService({ reports: new ReportRepository(db, heldBallots), suites }),
    contests: createContestService({ contests: new ContestRepository(db), standings, suites }),
    stopping: createStoppingService({ stopping: new StoppingRepository(db), standings, suites }),
    /** From now on holds the ballots that it has read, for whoever makes one report after the other. */
    holdBallots(ofCells: Stamps, files: BallotFiles): void {
      heldBallots.hold(files);
      basis.follow(ofCells);
    },
  };
}
export type ReportServices = ReturnType<typeof createReportServices>;
