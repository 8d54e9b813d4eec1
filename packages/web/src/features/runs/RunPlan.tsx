import type { Wall } from "@tourney/core/contract";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { toast } from "sonner";
import { useGetWallQuery } from "../../api/wall-api.js";
import { count } from "../../lib/format.js";
import { Button } from "../../ui/controls.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { ErrorNotice, Loading } from "../../ui/notices.js";
import { useStartRunMutation } from "./runs-api.js";

/** A run is planned on the grid itself: what exists is shown, what is missing is counted. */
export function RunPlan({ editionId }: { editionId: string }) {
  const {
    currentData: wall,
    error,
    refetch,
  } = useGetWallQuery(editionId, { pollingInterval: 3000, skipPollingIfUnfocused: true });
  return (
    <aside aria-labelledby="plan-heading" className="px-4 py-4">
      <h2 id="plan-heading" className="m-0 text-[18px] leading-6">
        Plan a run
      </h2>
      {wall ? (
        <PlanGrid wall={wall} />
      ) : error ? (
        <ErrorNotice error={error} onRetry={() => void refetch()} />
      ) : (
        <Loading what="the grid" />
      )}
    </aside>
  );
}

function toggled(set: ReadonlySet<string>, id: string): Set<string> {
  const next = new Set(set);
  if (!next.delete(id)) next.add(id);
  return next;
}

function PlanGrid({ wall }: { wall: Wall }) {
  const navigate = useNavigate();
  const [leftOut, setLeftOut] = useState<ReadonlySet<string>>(new Set());
  const [takes, setTakes] = useState(1);
  const [startRun, { isLoading, error }] = useStartRunMutation();
  const reachable = wall.entrants.filter(({ byHand }) => !byHand);
  const promptIds = wall.prompts.filter(({ id }) => !leftOut.has(id)).map(({ id }) => id);
  const entrantIds = reachable.filter(({ id }) => !leftOut.has(id)).map(({ id }) => id);
  const existing = wall.cells.filter(
    (cell) =>
      cell.state !== "missing" &&
      cell.take <= takes &&
      promptIds.includes(cell.promptId) &&
      entrantIds.includes(cell.entrantId),
  );
  const missing = promptIds.length * entrantIds.length * takes - existing.length;

  const start = async () => {
    const result = await startRun({ editionId: wall.edition.id, promptIds, entrantIds, takes });
    if (!result.data) return;
    toast.success(`Run ${result.data.number} is on its way: ${count(result.data.counts.total, "generation")}.`);
    void navigate(`/runs/${result.data.id}`);
  };

  if (reachable.length === 0) {
    return (
      <p className="text-soft">
        No entrant can be reached by an endpoint. <Link to="/entrants">Add one</Link>, or import answers by hand on the
        wall.
      </p>
    );
  }
  return (
    <>
      <p className="mt-1 mb-3 text-soft">
        Tick rows and columns. A filled square exists already and is not sent again.
      </p>
      <PlanTable
        wall={wall}
        reachable={reachable}
        takes={takes}
        leftOut={leftOut}
        onToggle={(id) => setLeftOut(toggled(leftOut, id))}
      />
      <label className="mt-4 flex items-center gap-3">
        <span className="font-semibold">Takes</span>
        <input
          type="number"
          min={1}
          max={20}
          value={takes}
          onChange={(event) => setTakes(Math.min(20, Math.max(1, Number(event.target.value) || 1)))}
          className="h-8 w-20 rounded border border-rule bg-sheet px-2 text-ink"
        />
        <span className="text-soft">of each cell in all; one answer says little</span>
      </label>
      {error ? <ErrorNotice error={error} /> : null}
      <Button tone="primary" className="mt-4" disabled={missing <= 0 || isLoading} onClick={() => void start()}>
        {missing <= 0 ? "Nothing is missing" : `Send ${count(missing, "request")}`}
      </Button>
    </>
  );
}

interface PlanTableProps {
  wall: Wall;
  reachable: Wall["entrants"];
  takes: number;
  leftOut: ReadonlySet<string>;
  onToggle: (id: string) => void;
}

function PlanTable({ wall, reachable, takes, leftOut, onToggle }: PlanTableProps) {
  return (
    <table className="border-collapse">
      <thead>
        <tr>
          <td />
          {reachable.map(({ id, name, glyph }) => (
            <th key={id} className="px-1.5 pb-1 text-center font-normal">
              <label className="grid justify-items-center gap-1" title={name}>
                <EntrantGlyph glyph={glyph} />
                <input
                  type="checkbox"
                  aria-label={`Send to ${name}`}
                  checked={!leftOut.has(id)}
                  onChange={() => onToggle(id)}
                  className="accent-(--ink)"
                />
              </label>
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {wall.prompts.map((prompt) => (
          <tr key={prompt.id}>
            <th scope="row" className="pr-4 text-left font-normal">
              <label className="flex items-center gap-2">
                <input
                  type="checkbox"
                  aria-label={`Send ${prompt.title}`}
                  checked={!leftOut.has(prompt.id)}
                  onChange={() => onToggle(prompt.id)}
                  className="accent-(--ink)"
                />
                {prompt.title}
              </label>
            </th>
            {reachable.map(({ id, name }) => {
              const there = wall.cells.filter(
                (cell) => cell.promptId === prompt.id && cell.entrantId === id && cell.state !== "missing",
              ).length;
              const isChosen = !leftOut.has(id) && !leftOut.has(prompt.id) && there < takes;
              return (
                <td key={id} className="p-1.5 text-center">
                  <PlanSquare
                    there={there > 0}
                    chosen={isChosen}
                    label={`${prompt.title}, ${name}: ${there} of ${takes} there${isChosen ? ", to be sent" : ""}`}
                  />
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function PlanSquare({ there, chosen, label }: { there: boolean; chosen: boolean; label: string }) {
  const look = there && !chosen ? "bg-ink border-ink" : chosen ? "border-act" : "border-rule";
  return (
    <span
      role="img"
      aria-label={label}
      title={label}
      className={`relative inline-block size-4 border-2 align-middle ${look}`}
    >
      {chosen ? <span className="absolute inset-0 m-auto size-1.5 bg-act" /> : null}
    </span>
  );
}
