import { describePlan, describeProgress } from "@tourney/core/conclusions";
import { listIssues, type StoppingLook, type StoppingPlan as Plan, StoppingPlanInput } from "@tourney/core/contract";
import { lookingAlpha } from "@tourney/core/stopping";
import { useState } from "react";
import { toast } from "sonner";
import { useGetStoppingQuery, useGiveUpStoppingMutation, useSetStoppingMutation } from "../../api/stopping-api.js";
import { toApiError } from "../../api/tourney-api.js";
import { formatDay } from "../../lib/format.js";
import { Button, Field, SelectField } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import { Sheet } from "../../ui/Sheet.js";

/** When ballots are enough: set beforehand, so that nobody stops at the moment that suits. */
export function StoppingPlan({ editionId, ballots }: { editionId: string; ballots: number }) {
  const { currentData: state, error } = useGetStoppingQuery(editionId, { refetchOnMountOrArgChange: true });
  const [isSetting, setSetting] = useState(false);
  if (error) return <ErrorNotice error={error} />;
  if (state === undefined) return null;
  const { plan, earlier, looks, metAfter } = state;
  return (
    <section aria-labelledby="stopping-heading" className="mt-6">
      <h2 id="stopping-heading" className="m-0 border-b border-strong-rule pb-1.5 text-[16px]">
        When to stop
      </h2>
      {plan === null ? (
        <p className="my-2 text-soft">
          No plan. Who looks again and again and stops when it suits finds differences that are none: say beforehand
          what the ballots are for.
        </p>
      ) : (
        <>
          <p className="mt-2 mb-0 font-semibold">{describePlan(plan)}</p>
          <p role="status" className={`m-0 ${metAfter === null ? "text-soft" : "text-ink"}`}>
            {metAfter === null ? "" : "✓ "}
            {describeProgress(state)}
          </p>
          <Looks plan={plan} looks={looks} />
          <p className="mt-2 mb-0 text-[13px] text-soft">
            Set {formatDay(plan.setAt)}, at {plan.ballotsBefore.toLocaleString("en")} ballots. Its looks use{" "}
            {formatLevel(1 - lookingAlpha(plan))} intervals, so that all of them together are wrong one time in twenty
            at most. Figures above are for one look and decide nothing here.
          </p>
        </>
      )}
      {earlier.length > 0 ? (
        <p className="mt-1 mb-0 text-[13px] text-soft">
          Given up before: {earlier.map((one) => describePlan(one)).join(" ")}
        </p>
      ) : null}
      <div className="mt-2">
        {plan === null ? <Button onClick={() => setSetting(true)}>Set a plan …</Button> : <GiveUp planId={plan.id} />}
      </div>
      <Sheet
        title="When to stop"
        description="A plan holds until it is given up, and cannot be changed: those that were given up stay on record."
        open={isSetting}
        onOpenChange={setSetting}
      >
        <PlanForm {...{ editionId, ballots }} onDone={() => setSetting(false)} />
      </Sheet>
    </section>
  );
}

const formatLevel = (share: number) => `${Number((share * 100).toFixed(1))} %`;

function Looks({ plan: { goal }, looks }: { plan: Plan; looks: readonly StoppingLook[] }) {
  const describe = ({ isMet, reached }: StoppingLook) => {
    if (isMet === null) return "to come";
    const found =
      goal.kind === "first" ? `${reached ?? 0} of ${goal.count}` : reached === null ? "—" : `± ${Math.round(reached)}`;
    return isMet ? `met: ${found}` : found;
  };
  return (
    <ol aria-label="Looks" className="figures mt-2 mb-0 flex list-none flex-wrap gap-x-4 gap-y-1 p-0 text-[13px]">
      {looks.map((look) => (
        <li key={look.ballots} className={look.isMet === null ? "text-soft" : ""}>
          after {look.ballots.toLocaleString("en")}: {describe(look)}
        </li>
      ))}
    </ol>
  );
}

function GiveUp({ planId }: { planId: string }) {
  const [giveUp, { isLoading }] = useGiveUpStoppingMutation();
  const set = async (givenUp: boolean) => {
    const { error } = await giveUp({ planId, givenUp });
    if (error !== undefined) toast.error(toApiError(error).detail);
    else if (givenUp)
      toast("The plan is given up. It stays on record.", { action: { label: "Undo", onClick: () => void set(false) } });
  };
  return (
    <Button compact disabled={isLoading} onClick={() => void set(true)}>
      Give the plan up
    </Button>
  );
}

/** What a new plan begins with: half as many ballots more, looked at five times. */
const draftOf = (ballots: number) => ({
  kind: "first" as "first" | "within",
  count: "3",
  points: "40",
  mostBallots: String(Math.max(100, Math.ceil((ballots * 1.5) / 50) * 50)),
  looks: "5",
});

function PlanForm({ editionId, ballots, onDone }: { editionId: string; ballots: number; onDone: () => void }) {
  const [draft, setDraft] = useState(() => draftOf(ballots));
  const [issues, setIssues] = useState<Record<string, string>>({});
  const [setPlan, { error, isLoading }] = useSetStoppingMutation();
  const set = (part: Partial<typeof draft>) => setDraft((now) => ({ ...now, ...part }));
  const { kind, count, points, mostBallots, looks } = draft;
  const submit = async () => {
    const goal = kind === "first" ? { kind, count: Number(count) } : { kind, points: Number(points) };
    const parsed = StoppingPlanInput.safeParse({ goal, mostBallots: Number(mostBallots), looks: Number(looks) });
    if (!parsed.success) {
      setIssues(Object.fromEntries(listIssues(parsed.error).map(({ path, message }) => [path, message])));
      return;
    }
    setIssues({});
    const { data } = await setPlan({ editionId, plan: parsed.data });
    if (data === undefined) return;
    toast.success("The plan holds from now on.");
    onDone();
  };
  return (
    <form
      noValidate
      className="grid grid-cols-2 gap-x-4 gap-y-2 max-[640px]:grid-cols-1"
      onSubmit={(event) => {
        event.preventDefault();
        void submit();
      }}
    >
      {error ? (
        <div className="col-span-full">
          <ErrorNotice error={error} />
        </div>
      ) : null}
      <SelectField
        label="Vote until"
        value={kind}
        options={[
          ["first", "the first are told apart"],
          ["within", "all ratings are sure enough"],
        ]}
        onChange={({ target }) => set({ kind: target.value as typeof kind })}
      />
      {kind === "first" ? (
        <Field
          label="How many of the first"
          inputMode="numeric"
          value={count}
          error={issues["goal.count"]}
          onChange={({ target }) => set({ count: target.value })}
        />
      ) : (
        <Field
          label="Within ± rating points"
          inputMode="numeric"
          value={points}
          error={issues["goal.points"]}
          onChange={({ target }) => set({ points: target.value })}
        />
      )}
      <Field
        label="Ballots at most"
        hint={`${ballots.toLocaleString("en")} count now; the last look is at so many`}
        inputMode="numeric"
        value={mostBallots}
        error={issues["mostBallots"]}
        onChange={({ target }) => set({ mostBallots: target.value })}
      />
      <Field
        label="Looks"
        hint="Evenly spaced; each more makes every look stricter"
        inputMode="numeric"
        value={looks}
        error={issues["looks"]}
        onChange={({ target }) => set({ looks: target.value })}
      />
      <div className="col-span-full mt-2 flex justify-end">
        <Button tone="primary" type="submit" disabled={isLoading}>
          Set the plan
        </Button>
      </div>
    </form>
  );
}
