import { randomUUID } from "node:crypto";
import { readlinkSync } from "node:fs";
import { hostname } from "node:os";
import * as z from "zod";

/** What is needed of a connection pool. */
export interface Queryable {
  query: (sql: string, values?: unknown[]) => Promise<{ rows: unknown[] }>;
}

export interface PresenceOptions {
  kind: "server" | "generate" | "render";
  /** How many jobs it works on at a time. */
  capacity: number;
  rendererVersion: string | null;
  onError: (error: unknown) => void;
}

/** A process that works on the queue says that it lives, and by which names it holds jobs. */
export interface Presence {
  /** A name under which the queue notes what this process works on. */
  addQueueId: (id: string) => void;
  /** Says it now and every few seconds. */
  begin: () => Promise<void>;
  end: () => Promise<void>;
}

export const BEAT_EVERY_MS = 5000;
/** A process that was not heard of for this long is gone, or as good as gone. */
const SILENT_MS = 30_000;
/** A process may hold a job for a moment before it has said its name. */
const GRACE_MS = 15_000;

/** Where a process id means the same process. */
function describePlace(): string {
  try {
    return `${hostname()} ${readlinkSync("/proc/self/ns/pid")}`;
  } catch {
    return hostname();
  }
}

export function createPresence(
  pool: Queryable,
  { kind, capacity, rendererVersion, onError }: PresenceOptions,
): Presence {
  const id = randomUUID();
  const queueIds: string[] = [];
  let timer: NodeJS.Timeout | undefined;
  const beat = () =>
    pool.query(
      `INSERT INTO workers (id, kind, host, place, pid, capacity, renderer_version, queue_ids) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)
       ON CONFLICT (id) DO UPDATE SET seen_at = now(), queue_ids = excluded.queue_ids`,
      [id, kind, hostname(), describePlace(), process.pid, capacity, rendererVersion, queueIds],
    );
  return {
    addQueueId(queueId) {
      queueIds.push(queueId);
      if (timer) beat().catch(onError);
    },
    async begin() {
      await beat();
      // A beat that fails (the database is being restarted) is made up for by the next.
      timer = setInterval(() => void beat().catch(onError), BEAT_EVERY_MS);
    },
    async end() {
      clearInterval(timer);
      await pool.query("DELETE FROM workers WHERE id = $1", [id]);
    },
  };
}

const GoneRow = z.object({
  id: z.string(),
  place: z.string(),
  pid: z.int(),
  isSilent: z.boolean(),
  queueIds: z.array(z.string()),
});

/**
 * Frees the jobs of processes that are gone: not heard of, or on this host and no longer alive. Any process may do it at any
 * time.
 * @returns how many names were freed.
 */
export async function freeStaleJobs(pool: Queryable): Promise<number> {
  const { rows } = await pool.query(
    `SELECT id, place, pid, seen_at < now() - $1 * interval '1 millisecond' AS "isSilent", queue_ids AS "queueIds" FROM workers`,
    [SILENT_MS],
  );
  const gone = z
    .array(GoneRow)
    .parse(rows)
    .filter(({ place, pid, isSilent }) => isSilent || (place === describePlace() && !isAlive(pid)));
  await pool.query("DELETE FROM workers WHERE id = ANY($1)", [gone.map(({ id }) => id)]);
  const { rows: unknown } = await pool.query(
    `SELECT DISTINCT locked_by AS id FROM graphile_worker.jobs WHERE locked_by IS NOT NULL
       AND locked_at < now() - $1 * interval '1 millisecond' AND locked_by NOT IN (SELECT unnest(queue_ids) FROM workers)`,
    [GRACE_MS],
  );
  const names = [
    ...gone.flatMap(({ queueIds }) => queueIds),
    ...z
      .array(z.object({ id: z.string() }))
      .parse(unknown)
      .map(({ id }) => id),
  ];
  if (names.length > 0) await pool.query("SELECT graphile_worker.force_unlock_workers($1)", [[...new Set(names)]]);
  return names.length;
}

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    // It may belong to someone else, and be alive all the same.
    return (error as NodeJS.ErrnoException).code === "EPERM";
  }
}
