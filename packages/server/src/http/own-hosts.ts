import type { RequestHandler } from "express";
import { TourneyError } from "@tourney/core/errors";

/**
 * Answers only what was asked for at one of the app's own addresses. Another name that leads here is somebody else's: a page there could read
 * what it is answered as its own (DNS rebinding).
 *
 * @param hosts as in tourney.example or localhost:4600.
 */
export function refuseOtherHosts(hosts: readonly string[]): RequestHandler {
  const own = new Set(hosts.map((host) => host.toLowerCase()));
  return (request, _response, next) => {
    const host = request.headers.host ?? "";
    if (own.has(host.toLowerCase())) {
      next();
      return;
    }
    throw new TourneyError("WRONG_HOST", {
      message: `Tourney is not at ${host.slice(0, 100) || "a host without a name"}.`,
      reason: `It answers at ${hosts[0]!} and on this machine.`,
      remedy: "Open it there. If people reach it by another name, start it with --public-url (docs/elsewhere.md).",
    });
  };
}
