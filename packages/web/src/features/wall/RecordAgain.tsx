import type { RenderQueue, RenderScope, Wall } from "@tourney/core/contract";
import { useState } from "react";
import { toast } from "sonner";
import { useGetRenderQueueQuery, useRenderAgainMutation } from "../../api/renders-api.js";
import { useFollow } from "../../api/use-follow.js";
import { count } from "../../lib/format.js";
import { Button, SelectField } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import { Sheet } from "../../ui/Sheet.js";

type Only = RenderScope["only"];

/** Makes recordings anew: of a prompt, an entrant, all, or only those that need it. */
export function RecordAgain({ wall }: { wall: Wall }) {
  const editionId = wall.edition.id;
  const entrants = wall.entrants.filter(({ version }) => version.isPresent);
  const { currentData: queue, refetch } = useGetRenderQueueQuery(editionId, {
    // How many were made in the last minute goes down by itself.
    pollingInterval: 20_000,
    skipPollingIfUnfocused: true,
  });
  useFollow(refetch, { about: ["cells"], everyMs: 1500 });
  const [open, setOpen] = useState(false);
  const [scope, setScope] = useState<{ promptId: string; entrantId: string; only: Only }>({
    promptId: "",
    entrantId: "",
    only: "all",
  });
  const [renderAgain, { isLoading, error }] = useRenderAgainMutation();
  const openWith = (only: Only) => {
    setScope({ promptId: "", entrantId: "", only });
    setOpen(true);
  };
  const submit = async () => {
    const { promptId, entrantId, only } = scope;
    const result = await renderAgain({
      editionId,
      only,
      ...(promptId === "" ? {} : { promptId }),
      ...(entrantId === "" ? {} : { entrantId }),
    });
    if (!result.data) return;
    const { queued } = result.data;
    if (queued === 0) toast("Nothing there is to be recorded again.");
    else toast.success(`${count(queued, "recording")} queued.`);
    setOpen(false);
  };
  return (
    <>
      {queue && queue.stale > 0 ? (
        <Button compact onClick={() => openWith("stale")}>
          <span className="text-care-ink">{count(queue.stale, "stale recording")}</span>
        </Button>
      ) : null}
      <Button compact onClick={() => openWith("all")}>
        {queue && queue.waiting + queue.running > 0 ? (
          <span className="figures">Recording {queue.waiting + queue.running} …</span>
        ) : (
          "Record again"
        )}
      </Button>
      <Sheet
        title="Record again"
        description="Each entry is opened anew under the same clock, seed and inputs. Older recordings are kept."
        open={open}
        onOpenChange={setOpen}
      >
        {error ? <ErrorNotice error={error} /> : null}
        <div className="grid grid-cols-3 gap-4 max-[700px]:grid-cols-1">
          <SelectField
            label="Prompts"
            options={[["", "All prompts"], ...wall.prompts.map(({ id, title }): [string, string] => [id, title])]}
            value={scope.promptId}
            onChange={(event) => setScope({ ...scope, promptId: event.target.value })}
          />
          <SelectField
            label="Entrants"
            options={[["", "All entrants"], ...entrants.map(({ id, name }): [string, string] => [id, name])]}
            value={scope.entrantId}
            onChange={(event) => setScope({ ...scope, entrantId: event.target.value })}
          />
          <SelectField
            label="Which"
            options={[
              ["all", "All"],
              ["stale", "Stale: an older renderer or another recipe"],
              ["failed", "Could not be made"],
            ]}
            value={scope.only}
            onChange={(event) => setScope({ ...scope, only: event.target.value as Only })}
          />
        </div>
        {queue ? <QueueWords queue={queue} /> : null}
        <div className="mt-4 flex justify-end">
          <Button tone="primary" disabled={isLoading} onClick={() => void submit()}>
            {isLoading ? "Queueing …" : "Record again"}
          </Button>
        </div>
      </Sheet>
    </>
  );
}

/** How far the queue is, and who works on it. */
function QueueWords({ queue: { workers, waiting, running, failed, recordedLastMinute } }: { queue: RenderQueue }) {
  const recorders = workers.filter(({ kind }) => kind === "render");
  const atOnce = recorders.reduce((sum, { capacity }) => sum + capacity, 0);
  const hosts = new Set(recorders.map(({ host }) => host)).size;
  return (
    <p className="figures mt-4 mb-0 text-soft">
      {recorders.length === 0 ? (
        <span className="text-broken">No recorder is running. Start one with `./tourney worker --render 2`.</span>
      ) : (
        `${count(recorders.length, "worker")} on ${count(hosts, "host")}, ${atOnce} at a time.`
      )}{" "}
      {waiting + running === 0 ? "Nothing waits." : `${running} being recorded, ${waiting} waiting.`}
      {recordedLastMinute > 0 ? ` ${recordedLastMinute} in the last minute.` : ""}
      {failed > 0 ? ` ${failed} could not be made.` : ""}
    </p>
  );
}
