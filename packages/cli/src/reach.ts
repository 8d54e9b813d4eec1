import { isIP } from "node:net";
import { TourneyError } from "@tourney/core/errors";
import { canListen } from "./instance.js";

/** How a Tourney is to be reached, as the command line says it; what is left out comes from the environment, or is as it always is. */
export interface ReachFlags {
  port?: string;
  exhibitPort?: string;
  listen?: string;
  publicUrl?: string;
  stagesUrl?: string;
}

export interface Reach {
  /** Ports that are to be used and no others. */
  ports: { app: number | null; exhibit: number | null };
  /** As the programs take them. */
  settings: Record<string, string>;
}

const LOOPBACK = ["127.0.0.1", "::1", "localhost"];
/** https://tourney.example, and https://*.stages.tourney.example for the stages. */
const ORIGIN = /^https?:\/\/[a-z0-9.-]+(?::\d+)?\/?$/i;
const STAGES = /^https?:\/\/(?:\*\.)?[a-z0-9.-]+(?::\d+)?\/?$/i;

/** @throws TourneyError INVALID_INPUT that names the flag */
export async function readReach(flags: ReachFlags, env: NodeJS.ProcessEnv = process.env): Promise<Reach> {
  const settings: Record<string, string> = {};
  const take = (variable: string, given: string | undefined, check: (value: string) => void) => {
    const value = given ?? env[variable];
    if (value === undefined || value === "") return;
    check(value);
    settings[variable] = value.replace(/\/$/, "");
  };
  take("TOURNEY_LISTEN", flags.listen, (value) => {
    if (isIP(value) === 0 && value !== "localhost")
      throw refuse(
        `--listen ${value}`,
        "It is the address of one of this machine's networks.",
        "Give one as in --listen 0.0.0.0, which is all of them.",
      );
  });
  take("TOURNEY_PUBLIC_URL", flags.publicUrl, (value) => {
    if (!ORIGIN.test(value))
      throw refuse(
        `--public-url ${value}`,
        "It is the address that people open Tourney at, without a path.",
        "Give it as in --public-url https://tourney.example.",
      );
  });
  take("TOURNEY_STAGES_URL", flags.stagesUrl, (value) => {
    if (!STAGES.test(value))
      throw refuse(
        `--stages-url ${value}`,
        "It is where outputs are shown, with a * where each has a host of its own.",
        "Give it as in --stages-url 'https://*.stages.tourney.example'.",
      );
  });
  const { TOURNEY_LISTEN: listen = "127.0.0.1", TOURNEY_PUBLIC_URL: publicUrl } = settings;
  if (!LOOPBACK.includes(listen) && publicUrl === undefined)
    throw refuse(
      `--listen ${listen} alone`,
      "Requests are answered only at the address that Tourney knows as its own.",
      "Say how people reach it, as in --public-url http://tourney.lab.example:4600.",
    );
  const app = readPort("--port", flags.port ?? env["TOURNEY_PORT"]);
  const exhibit = readPort("--exhibit-port", flags.exhibitPort ?? env["TOURNEY_EXHIBITS_PORT"]);
  if (app !== null && app === exhibit)
    throw refuse(
      `--port and --exhibit-port ${app}`,
      "The app and the outputs have a port each.",
      "Give two different ones.",
    );
  for (const port of [app, exhibit])
    if (port !== null && !(await canListen(port, listen)))
      throw refuse(
        `Port ${port}`,
        "Another program listens there, or this user may not.",
        "Give another one, or stop that program. Without the flag a free one is chosen.",
      );
  return { ports: { app, exhibit }, settings };
}

function readPort(flag: string, text: string | undefined): number | null {
  if (text === undefined || text === "") return null;
  const port = Number(text);
  if (Number.isInteger(port) && port >= 1 && port <= 65_535) return port;
  throw refuse(`${flag} ${text}`, "Ports go from 1 to 65535.", `Give a whole number, as in ${flag} 4600.`);
}

const refuse = (what: string, reason: string, remedy: string): TourneyError =>
  new TourneyError("INVALID_INPUT", { message: `${what} cannot be used.`, reason, remedy });
