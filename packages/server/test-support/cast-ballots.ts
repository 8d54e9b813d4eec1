import { createRandom } from "@tourney/core/random";
import * as z from "zod";
import { Client } from "./client.js";
import type { TestServer } from "./test-server.js";

const Queue = z.object({ bouts: z.array(z.object({ token: z.string() })) });

/** A voter of a panel casts so many ballots as a seed has it, and takes some of them back. */
export async function castBallots(
  server: TestServer,
  { token, seed, ballots, note = "" }: { token: string; seed: number; ballots: number; note?: string },
): Promise<Client> {
  const random = createRandom(seed);
  const voter = new Client(server.origin);
  await voter.post(`/api/booth/${token}/voters`, { name: `Voter ${seed}` });
  for (let i = 0; i < ballots; i++) {
    const { bouts } = Queue.parse((await voter.get(`/api/booth/${token}/bouts`)).body);
    if (!bouts[0]) break;
    await voter.post(`/api/booth/bouts/${bouts[0].token}/ballot`, {
      lean: Math.floor(random() * 5) - 2,
      leftWorks: random() > 0.2,
      dwellMs: 2000,
      ...(note === "" ? {} : { note }),
    });
    if (random() < 0.2) await voter.delete(`/api/booth/${token}/last-ballot`);
  }
  return voter;
}
