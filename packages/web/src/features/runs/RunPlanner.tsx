import type { Grid, RunOptions, RunPlan } from "@tourney/core/contract";
import { useCallback, useState } from "react";
import { EditionLink, useEditionNavigate } from "../../api/edition-links.js";
import { toast } from "sonner";
import { useGetGridQuery } from "../../api/wall-api.js";
import { useFollow } from "../../api/use-follow.js";
import { count, formatMs, formatUsd } from "../../lib/format.js";
import { Button, Field, SelectField } from "../../ui/controls.js";
import { ErrorNotice, Loading } from "../../ui/notices.js";
import { isReachable, type LeftOut, PlanTable } from "./PlanTable.js";
import { usePlanRunQuery, useStartRunMutation } from "./runs-api.js";

/** A run is planned on the grid itself: what exists is shown, what is missing is counted. */
export function RunPlanner({ editionId }: { editionId: string }) {
  const { currentData: grid, error, refetch } = useGetGridQuery(editionId);
  useFollow(refetch, { about: ["cells"], everyMs: 2000 });
  return (
    <aside aria-labelledby="plan-heading" className="px-4 py-4">
      <h2 id="plan-heading" className="m-0 text-[18px] leading-6">
        Plan a run
      </h2>
      {grid ? (
        <PlanGrid grid={grid} />
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
  continuations: number;
  refusalRetries: number;
  budget: string;
  why: string;
}
const EMPTY_DRAFT: RunDraft = {
  takes: 1,
  order: "round-robin",
  mendRounds: 0,
  continuations: 3,
  refusalRetries: 1,
  budget: "",
  why: "",
};
const budgetOf = ({ budget }: RunDraft) => (budget.trim() === "" ? undefined : Number(budget));
const isBudgetWrong = (draft: RunDraft) => {
  const value = budgetOf(draft);
  return value !== undefined && !(value > 0);
};

function PlanGrid({ grid }: { grid: Grid }) {
  const [leftOut, setLeftOut] = useState<LeftOut>({ prompts: new Set(), entrants: new Set() });
  const [draft, setDraft] = useState(EMPTY_DRAFT);
  const reachable = grid.entrants.filter(isReachable);
  const toggle = useCallback(
    (axis: keyof LeftOut, id: string) => setLeftOut((now) => ({ ...now, [axis]: toggled(now[axis], id) })),
    [],
  );
  const promptIds = grid.prompts.filter(({ id }) => !leftOut.prompts.has(id)).map(({ id }) => id);
  const entrantIds = reachable.filter(({ id }) => !leftOut.entrants.has(id)).map(({ id }) => id);
  const request = { editionId: grid.editionId, promptIds, entrantIds, takes: draft.takes };
  const isEmpty = promptIds.length === 0 || entrantIds.length === 0;
  const { currentData } = usePlanRunQuery(request, { skip: isEmpty });
  const plan = isEmpty ? undefined : currentData;
  if (reachable.length === 0) {
    return (
      <p className="text-soft">
        No entrant can be reached by an endpoint. <EditionLink to="/entrants">Add one</EditionLink>, or import answers
        by hand on the wall.
      </p>
    );
  }
  return (
    <>
      <p className="mt-1 mb-3 text-soft">
        Tick rows and columns. A filled square exists already and is not sent again.
      </p>
      <PlanTable grid={grid} takes={draft.takes} leftOut={leftOut} onToggle={toggle} />
      <OptionFields draft={draft} onChange={setDraft} />
      {plan ? <Estimate plan={plan} grid={grid} /> : null}
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
  const navigate = useEditionNavigate();
  const [startRun, { isLoading, error }] = useStartRunMutation();
  const missing = plan?.missing ?? 0;
  const needsWhy = (plan?.unlike.length ?? 0) > 0 && draft.why.trim().length < 3;
  const start = async () => {
    const budgetUsd = budgetOf(draft);
    const result = await startRun({
      ...request,
      options: {
        order: draft.order,
        mendRounds: draft.mendRounds,
        continuations: draft.continuations,
        refusalRetries: draft.refusalRetries,
      },
      ...(budgetUsd === undefined ? {} : { budgetUsd }),
      ...(draft.why.trim() === "" ? {} : { acceptedWhy: draft.why.trim() }),
    });
    if (!result.data) return;
    toast.success(`Run ${result.data.number} is on its way: ${count(result.data.counts.total, "generation")}.`);
    navigate(`/runs/${result.data.id}`);
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
        hint="how many times errors are sent back"
        type="number"
        min={0}
        max={5}
        value={draft.mendRounds}
        onChange={(event) => onChange({ ...draft, mendRounds: clamp(event.target.value, 0, 5) })}
      />
      <Field
        label="Continuations"
        hint="times an answer cut at its limit is continued"
        type="number"
        min={0}
        max={10}
        value={draft.continuations}
        onChange={(event) => onChange({ ...draft, continuations: clamp(event.target.value, 0, 10) })}
      />
      <Field
        label="Asked again"
        hint="times a refusal or empty answer is asked again"
        type="number"
        min={0}
        max={5}
        value={draft.refusalRetries}
        onChange={(event) => onChange({ ...draft, refusalRetries: clamp(event.target.value, 0, 5) })}
      />
      <SelectField
        label="Order"
        options={ORDERS}
        value={draft.order}
        onChange={(event) => onChange({ ...draft, order: event.target.value as RunOptions["order"] })}
      />
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
function Estimate({ plan, grid }: { plan: RunPlan; grid: Grid }) {
  if (plan.missing === 0) return null;
  const unpriced = grid.entrants.filter(({ id }) => plan.unpriced.includes(id)).map(({ name }) => name);
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
