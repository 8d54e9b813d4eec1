import { Client } from "./client.js";
import type { TestServer } from "./test-server.js";

/** The lead, signed in by a link as `./tourney sign-in` makes it. */
export async function signIn({ origin, services }: Pick<TestServer, "origin" | "services">): Promise<Client> {
  const lead = new Client(origin);
  const link = await services.auth.createSignInLink();
  await lead.post("/api/session", { token: link.split("/").at(-1) });
  return lead;
}
