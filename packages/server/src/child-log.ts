import { destination, type Logger, pino } from "pino";
import type { BallotFiles } from "./ballots/voter-file.js";

/** The log of a process of ours beside the server: `askProcess` hands it on. At once, since such a process is ended without being asked. */
export const openChildLog = (name: string): Logger =>
  pino({ name, level: "warn" }, destination({ dest: process.stderr.fd, sync: true }));

/** Where a process writes down the ballots that it holds. */
export const fileBallots = (dir: string, log: Logger): BallotFiles => ({
  dir,
  warn: (error) => log.warn({ err: error }, "the file of ballots that are held could not be read or written"),
});
