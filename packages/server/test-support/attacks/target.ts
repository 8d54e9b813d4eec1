import { request } from "node:http";

/** A Tourney that is attacked, with the means of everybody who could. */
export interface Target {
  origin: string;
  /** Where this machine reaches the outputs. */
  exhibitsAt: string;
  /** Headers of the lead's browser, of a voter's, and of a script that may read. */
  lead: Record<string, string>;
  voter: Record<string, string>;
  reader: Record<string, string>;
  editionId: string;
  /** Keys of a prompt that takes answers, each for another take. */
  promptKey: string;
  entrantKey: string;
}

/** One attack. It tells what fell, or null when all held. */
export interface Attack {
  name: string;
  run: () => Promise<string | null>;
}

export interface Asked {
  method?: string;
  headers?: Record<string, string>;
  body?: string | Buffer;
  /** Another one than the address says. */
  host?: string;
  /** Says that a body comes of so many bytes, and sends none. */
  promised?: number;
}

/** Characters of an answer that are kept. */
const MOST_TEXT = 50_000_000;

/** A request as anybody can make one, byte by byte: no client corrects it. */
export function ask(
  origin: string,
  path: string,
  { method = "GET", headers = {}, body, host, promised }: Asked = {},
): Promise<{ status: number; text: string }> {
  const { hostname, port, host: own } = new URL(origin);
  const length = promised ?? (body === undefined ? undefined : Buffer.byteLength(body));
  return new Promise((resolve, reject) => {
    const sent = request(
      {
        ...{ hostname, port, path, method },
        headers: {
          Host: host ?? own,
          ...(length === undefined ? {} : { "Content-Type": "application/json", "Content-Length": String(length) }),
          ...headers,
        },
      },
      (response) => {
        let text = "";
        response.setEncoding("utf8");
        response.on("data", (chunk: string) => (text.length < MOST_TEXT ? (text += chunk) : undefined));
        response.on("end", () => {
          resolve({ status: response.statusCode ?? 0, text });
          sent.destroy();
        });
        response.on("error", reject);
      },
    );
    sent.on("error", reject);
    sent.setTimeout(60_000, () => sent.destroy(new Error("no answer within 60 s")));
    if (promised === undefined) sent.end(body);
    else sent.flushHeaders();
  });
}
