import type { StandingsSnapshot, WhatCounts } from "@tourney/core/contract";
import { type SyntheticEvent, useState } from "react";
import { toast } from "sonner";
import { useSearchParams } from "react-router";
import { toApiError } from "../../api/tourney-api.js";
import { count, formatAgo, formatDay, formatExact } from "../../lib/format.js";
import { useNow } from "../../lib/use-now.js";
import { Button, Field } from "../../ui/controls.js";
import { useListSnapshotsQuery, useSetSnapshotMutation, useTakeSnapshotMutation } from "./snapshots-api.js";

const REFRESH_MS = 30_000;
/** How the address names the snapshot that the standings are held against. */
export const SINCE = "since";

/** Keeps the standings as they are, and holds them against how they were. */
export function Snapshots({ editionId, counts }: { editionId: string; counts: WhatCounts }) {
  const { data: snapshots = [] } = useListSnapshotsQuery(editionId);
  const [take, { error, isLoading }] = useTakeSnapshotMutation();
  const nowMs = useNow(REFRESH_MS);
  const today = formatDay(new Date(nowMs).toISOString());
  const [given, setGiven] = useState<string | null>(null);
  const name = given ?? today;
  const submit = async (event: SyntheticEvent) => {
    event.preventDefault();
    const { data } = await take({ editionId, name, counts });
    if (data === undefined) return;
    setGiven(null);
    toast(`“${data.name}” keeps these standings.`);
  };
  return (
    <section aria-labelledby="kept-snapshots" className="grid gap-2">
      <h2 id="kept-snapshots" className="m-0 text-[15px] leading-5">
        Snapshots
      </h2>
      <form className="grid gap-2" onSubmit={(event) => void submit(event)}>
        <Field
          label="Name"
          value={name}
          maxLength={60}
          required
          onChange={({ target }) => setGiven(target.value)}
          hint="Keeps these figures, what counts, the method, and which ballots they are of."
          error={error === undefined ? undefined : toApiError(error).detail}
        />
        <div>
          <Button type="submit" disabled={isLoading || name.trim() === ""}>
            Keep these standings
          </Button>
        </div>
      </form>
      {snapshots.length > 0 ? (
        <ul aria-label="Snapshots" className="m-0 grid list-none gap-1 border-t border-rule p-0 pt-3">
          {snapshots.map((snapshot) => (
            <SnapshotLine key={snapshot.id} {...{ snapshot, nowMs }} />
          ))}
        </ul>
      ) : null}
    </section>
  );
}

function SnapshotLine({ snapshot, nowMs }: { snapshot: StandingsSnapshot; nowMs: number }) {
  const { id, name, takenAt, ballots } = snapshot;
  const [search, setSearch] = useSearchParams();
  const [set] = useSetSnapshotMutation();
  const compare = () => {
    const next = new URLSearchParams(search);
    next.set(SINCE, id);
    setSearch(next);
  };
  const remove = async () => {
    const { error } = await set({ snapshotId: id, removed: true });
    if (error !== undefined) {
      toast.error(toApiError(error).detail);
      return;
    }
    toast(`“${name}” is no longer listed.`, {
      action: { label: "Undo", onClick: () => void set({ snapshotId: id, removed: false }) },
    });
  };
  return (
    <li className="flex items-center gap-1">
      <span className="grid min-w-0 flex-1">
        <span className="truncate">{name}</span>
        <span className="figures text-[12px] text-soft">
          <time dateTime={takenAt} title={formatExact(takenAt)}>
            {formatAgo(takenAt, nowMs)}
          </time>
          , {count(ballots, "ballot")}
        </span>
      </span>
      <Button compact aria-label={`What changed since ${name}`} onClick={compare}>
        Since then
      </Button>
      <Button compact tone="quiet" aria-label={`Remove ${name}`} onClick={() => void remove()}>
        Remove
      </Button>
    </li>
  );
}
