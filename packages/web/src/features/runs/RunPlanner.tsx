import type { RunOptions, RunPlan, Wall } from "@tourney/core/contract";
import { useMemo, useState } from "react";
import { Link, useNavigate } from "react-router";
import { toast } from "sonner";
import { useGetWallQuery } from "../../api/wall-api.js";
import { count, formatMs, formatUsd } from "../../lib/format.js";
import { Button, Field } from "../../ui/controls.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { ErrorNotice, Loading } from "../../ui/notices.js";
import { usePlanRunQuery, useStartRunMutation } from "./runs-api.js";

/** A run is planned on the grid itself: what exists is shown, what is missing is counted. */
export function RunPlanner({ editionId }: { editionId: string }) {
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

const ORDERS: readonly [RunOptions["order"], string][] = [
  ["round-robin", "every entrant in turn"],
  ["prompt", "prompt by prompt"],
  ["entrant", "entrant by entrant"],
];

/** How the next run is to go, as it is typed. */
interface RunDraft {
  takes: number;
  order: RunOptions["order"];
  mendRounds: number;
  budget: string;
  why: string;
}
const EMPTY_DRAFT: RunDraft = { takes: 1, order: "round-robin", mendRounds: 0, budget: "", why: "" };
const budgetOf = ({ budget }: RunDraft) => (budget.trim() === "" ? undefined : Number(budget));
const isBudgetWrong = (draft: RunDraft) => {
  const value = budgetOf(draft);
  return value !== undefined && !(value > 0);
};

function PlanGrid({ wall }: { wall: Wall }) {
  const [leftOut, setLeftOut] = useState<ReadonlySet<string>>(new Set());
  const [draft, setDraft] = useState(EMPTY_DRAFT);
  const reachable = wall.entrants.filter(({ byHand, retired }) => !byHand && !retired);
  const promptIds = wall.prompts.filter(({ id }) => !leftOut.has(id)).map(({ id }) => id);
  const entrantIds = reachable.filter(({ id }) => !leftOut.has(id)).map(({ id }) => id);
  const request = { editionId: wall.edition.id, promptIds, entrantIds, takes: draft.takes };
  const isEmpty = promptIds.length === 0 || entrantIds.length === 0;
  const { currentData } = usePlanRunQuery(request, { skip: isEmpty });
  const plan = isEmpty ? undefined : currentData;
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
        takes={draft.takes}
        leftOut={leftOut}
        onToggle={(id) => setLeftOut(toggled(leftOut, id))}
      />
      <OptionFields draft={draft} onChange={setDraft} />
      {plan ? <Estimate plan={plan} wall={wall} /> : null}
      {plan && plan.unlike.length > 0 ? (
        <UnlikeNotice plan={plan} why={draft.why} onWhy={(why) => setDraft({ ...draft, why })} />
      ) : null}
      <StartButton request={request} draft={draft} plan={plan} />
    </>
  );
}

function StartButton({
  request,
  draft,
  plan,
}: {
  request: { editionId: string; promptIds: string[]; entrantIds: string[]; takes: number };
  draft: RunDraft;
  plan: RunPlan | undefined;
}) {
  const navigate = useNavigate();
  const [startRun, { isLoading, error }] = useStartRunMutation();
  const missing = plan?.missing ?? 0;
  const needsWhy = (plan?.unlike.length ?? 0) > 0 && draft.why.trim().length < 3;
  const start = async () => {
    const budgetUsd = budgetOf(draft);
    const result = await startRun({
      ...request,
      options: { order: draft.order, mendRounds: draft.mendRounds },
      ...(budgetUsd === undefined ? {} : { budgetUsd }),
      ...(draft.why.trim() === "" ? {} : { acceptedWhy: draft.why.trim() }),
    });
    if (!result.data) return;
    toast.success(`Run ${result.data.number} is on its way: ${count(result.data.counts.total, "generation")}.`);
    void navigate(`/runs/${result.data.id}`);
  };
  return (
    <>
      {error ? <ErrorNotice error={error} /> : null}
      <Button
        tone="primary"
        className="mt-4"
        disabled={missing <= 0 || isLoading || needsWhy || isBudgetWrong(draft)}
        onClick={() => void start()}
      >
        {missing <= 0 ? "Nothing is missing" : needsWhy ? "Say why first" : `Send ${count(missing, "request")}`}
      </Button>
    </>
  );
}

function OptionFields({ draft, onChange }: { draft: RunDraft; onChange: (draft: RunDraft) => void }) {
  return (
    <div className="mt-4 grid grid-cols-2 gap-x-4 gap-y-2">
      <Field
        label="Takes"
        hint="of each cell in all"
        type="number"
        min={1}
        max={20}
        value={draft.takes}
        onChange={(event) => onChange({ ...draft, takes: clamp(event.target.value, 1, 20) })}
      />
      <Field
        label="Budget in US dollars"
        hint="nothing is sent that would pass it"
        inputMode="decimal"
        value={draft.budget}
        error={isBudgetWrong(draft) ? "give an amount above 0" : undefined}
        onChange={(event) => onChange({ ...draft, budget: event.target.value })}
      />
      <Field
        label="Mend rounds"
        hint="errors fed back, up to so often"
        type="number"
        min={0}
        max={5}
        value={draft.mendRounds}
        onChange={(event) => onChange({ ...draft, mendRounds: clamp(event.target.value, 0, 5) })}
      />
      <label className="block">
        <span className="mb-1 block font-semibold">Order</span>
        <select
          value={draft.order}
          onChange={(event) => onChange({ ...draft, order: event.target.value as RunOptions["order"] })}
          className="h-[34px] w-full rounded border border-rule bg-sheet px-2 text-ink"
        >
          {ORDERS.map(([value, label]) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
      </label>
    </div>
  );
}

function UnlikeNotice({ plan, why, onWhy }: { plan: RunPlan; why: string; onWhy: (why: string) => void }) {
  return (
    <div className="mt-3 border-l-2 border-care pl-3">
      <p className="m-0 font-semibold">These entrants are not alike</p>
      <ul className="m-0 mb-2 list-none p-0 text-soft">
        {plan.unlike.map(({ message }) => (
          <li key={message}>{message}</li>
        ))}
      </ul>
      <Field
        label="Why they are compared all the same"
        value={why}
        maxLength={500}
        onChange={(event) => onWhy(event.target.value)}
      />
    </div>
  );
}

const clamp = (text: string, least: number, most: number) =>
  Math.min(most, Math.max(least, Math.round(Number(text)) || least));

/** What the plan would cost and take, and where that is known from. */
function Estimate({ plan, wall }: { plan: RunPlan; wall: Wall }) {
  if (plan.missing === 0) return null;
  const unpriced = wall.entrants.filter(({ id }) => plan.unpriced.includes(id)).map(({ name }) => name);
  const guessed = plan.byEntrant.filter(({ basis, missing }) => basis === "defaults" && missing > 0).length;
  return (
    <div className="figures mt-3 border-t border-rule pt-2">
      <p className="m-0">
        About <span className="font-semibold">{formatUsd(plan.costUsd)}</span> and{" "}
        <span className="font-semibold">{formatMs(plan.seconds * 1000)}</span>
        {plan.existing > 0 ? <span className="text-soft"> · {count(plan.existing, "cell")} there already</span> : null}
      </p>
      <p className="m-0 text-[12px] text-soft">
        {guessed === 0
          ? "From earlier answers of these entrants."
          : guessed === plan.byEntrant.length
            ? "From declared defaults: none of these entrants has answered yet."
            : `From earlier answers; ${count(guessed, "entrant")} by declared defaults.`}
        {unpriced.length > 0 ? ` Without prices, and so not counted: ${unpriced.join(", ")}.` : ""}
      </p>
    </div>
  );
}

/** How many takes each cell has: counted once, since a grid may have thousands of cells. */
function countCells(wall: Wall): Map<string, number> {
  const counts = new Map<string, number>();
  for (const { promptId, entrantId, state } of wall.cells) {
    const key = `${promptId} ${entrantId}`;
    if (state !== "missing") counts.set(key, (counts.get(key) ?? 0) + 1);
  }
  return counts;
}

interface PlanTableProps {
  wall: Wall;
  reachable: Wall["entrants"];
  takes: number;
  leftOut: ReadonlySet<string>;
  onToggle: (id: string) => void;
}

function PlanTable({ wall, reachable, takes, leftOut, onToggle }: PlanTableProps) {
  const counts = useMemo(() => countCells(wall), [wall]);
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
              const there = counts.get(`${prompt.id} ${id}`) ?? 0;
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
