import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import { ask, type Attack, type Target } from "./target.js";

/** What others on the machine and on the network try: addresses, hosts, keys, and bodies that never come. */
export function attackAsNeighbour({ origin, exhibitsAt, lead, editionId }: Target): Attack[] {
  const expect = (name: string, wanted: readonly number[], call: () => ReturnType<typeof ask>): Attack => ({
    name,
    run: async () => {
      const { status } = await call();
      return wanted.includes(status) ? null : `answered ${status}`;
    },
  });
  const outputs =
    (path: string, headers: Record<string, string> = {}) =>
    () =>
      ask(exhibitsAt, path, { headers });
  return [
    expect("a body of a stranger that never comes", [401], () =>
      ask(origin, "/api/suites/import", { method: "POST", promised: 5_000_000 }),
    ),
    expect("a file of a stranger that never comes", [401], () =>
      ask(origin, `/api/editions/${editionId}/answers/a.zip`, { method: "PUT", promised: 100_000_000 }),
    ),
    expect("a large body of a voter", [413], () =>
      ask(origin, `/api/booth/${"a".repeat(24)}/voters`, { method: "POST", promised: 5_000_000 }),
    ),
    expect("an output by a path that leads up", [404], outputs("/live/..%2f..%2fetc/passwd")),
    expect("an output by half an escape", [400, 404], outputs("/stage/%E0%A4%A/page")),
    expect("a stage without its token", [404], outputs(`/stage/${"a".repeat(22)}/page`)),
    expect("a library by a path that leads up", [404], outputs("/shelf/cdn.example/..%2f..%2f..%2fetc%2fpasswd")),
    expect("outputs by another name of this machine", [404], () => ask(exhibitsAt, "/", { host: "elsewhere.example" })),
    {
      name: "the machine's files by a path that leads up",
      run: async () => {
        const { text } = await ask(origin, "/..%2f..%2f..%2f..%2f..%2fetc%2fpasswd");
        return text.includes("root:") ? "gave one" : null;
      },
    },
    {
      name: "an entrants file that names the program's own secret",
      run: async () => sendsNothing({ origin, lead }, "TOURNEY_SECRET"),
    },
    {
      name: "an entrants file that names a variable that is no key",
      run: async () => sendsNothing({ origin, lead }, "PATH"),
    },
  ];
}

/** Lets the connection of an entrant be tested that names a variable and an address here, and tells what came there. */
async function sendsNothing(
  { origin, lead }: Pick<Target, "origin" | "lead">,
  variable: string,
): Promise<string | null> {
  const came: string[] = [];
  const endpoint = createServer((request, response) => {
    came.push(request.headers.authorization ?? "no key");
    response.end("{}");
  });
  await new Promise<void>((resolve) => endpoint.listen(0, "127.0.0.1", resolve));
  const { port } = endpoint.address() as AddressInfo;
  try {
    const key = `neighbour-${variable.toLowerCase().replaceAll("_", "-")}`;
    const yaml = `format: tourney-entrants/1\nentrants:\n  - { key: ${key}, name: ${key}, model: m-1, endpoint: { protocol: chat-completions, baseUrl: "http://127.0.0.1:${port}/v1", keyVariable: ${variable} }, prices: { input: 1, output: 1 } }`;
    const added = await ask(origin, "/api/entrants/import", {
      method: "POST",
      headers: lead,
      body: JSON.stringify({ yaml }),
    });
    if (added.status >= 400) return added.status < 500 ? null : `answered ${added.status}`;
    const { entrants } = JSON.parse(added.text) as { entrants: { id: string }[] };
    await ask(origin, `/api/entrants/${entrants[0]!.id}/test`, { method: "POST", headers: lead, body: "{}" });
    return came.length === 0 ? null : `${came.length} requests came there`;
  } finally {
    endpoint.close();
  }
}
