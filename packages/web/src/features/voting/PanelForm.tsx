import {
  type BrokenRule,
  Contest,
  type Edition,
  listIssues,
  type Panel,
  PanelInput,
  type UndeliveredRule,
} from "@tourney/core/contract";
import { useState } from "react";
import { toast } from "sonner";
import { useListEntrantsQuery } from "../../api/entrants-api.js";
import { BROKEN_WORDS, CONTEST_WORDS, UNDELIVERED_WORDS } from "@tourney/core/conclusions";
import { Button, CheckField, Field, SelectField, TextArea } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import { Sheet } from "../../ui/Sheet.js";
import { PanelChoices } from "./PanelChoices.js";
import { useAddPanelMutation, useChangePanelMutation } from "./voting-api.js";

interface PanelFormProps {
  edition: Edition;
  /** The panel to change; without one, a new one is made. */
  panel?: Panel;
  open: boolean;
  onOpenChange: (open: boolean) => void;
}

/** Makes a panel with its open invitation, or changes one. */
export function PanelForm(props: PanelFormProps) {
  const isNew = props.panel === undefined;
  return (
    <Sheet
      title={isNew ? "Invite a panel" : `Change ${props.panel!.title}`}
      description={
        isNew
          ? "One link makes a voter of everyone who opens it; links of their own can be made afterwards. Nobody needs an account."
          : "Ballots that were cast stay as they are. What changes holds from the next bout on."
      }
      open={props.open}
      onOpenChange={props.onOpenChange}
    >
      <Form {...props} />
    </Sheet>
  );
}

/** For a field of local time, as 2026-11-25T18:00. */
const toLocal = (iso: string | null): string =>
  iso === null ? "" : new Date(Date.parse(iso) - new Date(iso).getTimezoneOffset() * 60_000).toISOString().slice(0, 16);

const draftOf = (panel: Panel | undefined) => ({
  title: panel?.title ?? "",
  quota: String(panel?.quota ?? 20),
  message: panel?.message ?? "",
  closesAt: toLocal(panel?.closesAt ?? null),
  asksReasons: panel?.asksReasons ?? true,
  brokenRule: panel?.brokenRule ?? ("pair" as const),
  undeliveredRule: panel?.undeliveredRule ?? ("lose" as const),
  promptIds: panel?.promptIds ?? null,
  entrantIds: panel?.entrantIds ?? null,
  contest: panel?.contest ?? ("entrants" as const),
  step: String(panel?.step ?? 1),
  newcomerId: panel?.newcomerId ?? null,
});

const readDraft = (draft: ReturnType<typeof draftOf>, editionId: string) =>
  PanelInput.safeParse({
    ...{ ...draft, editionId },
    quota: Number(draft.quota),
    step: Number(draft.step),
    closesAt: draft.closesAt === "" ? null : new Date(draft.closesAt).toISOString(),
  });

function Form({ edition, panel, onOpenChange }: PanelFormProps) {
  const [draft, setDraft] = useState(() => draftOf(panel));
  const [issues, setIssues] = useState<Record<string, string>>({});
  const [addPanel, adding] = useAddPanelMutation();
  const [changePanel, changing] = useChangePanelMutation();
  const isBusy = adding.isLoading || changing.isLoading;
  const error = adding.error ?? changing.error;
  const set = (part: Partial<typeof draft>) => setDraft((now) => ({ ...now, ...part }));

  const submit = async () => {
    const parsed = readDraft(draft, edition.id);
    if (!parsed.success) {
      setIssues(Object.fromEntries(listIssues(parsed.error).map(({ path, message }) => [path, message])));
      return;
    }
    setIssues({});
    const { editionId, contest, step, newcomerId, ...change } = parsed.data;
    const result =
      panel === undefined
        ? await addPanel({ editionId, contest, step, newcomerId, ...change })
        : await changePanel({ panelId: panel.id, change });
    if (!result.data) return;
    toast.success(panel === undefined ? `${draft.title} is ready: share its link.` : `${draft.title} is changed.`);
    onOpenChange(false);
  };
  return (
    <form
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        void submit();
      }}
      className="grid grid-cols-2 gap-x-4 gap-y-2 max-[640px]:grid-cols-1"
    >
      {error ? (
        <div className="col-span-full">
          <ErrorNotice error={error} />
        </div>
      ) : null}
      <Field
        label="Name of the panel"
        value={draft.title}
        error={issues["title"]}
        onChange={(event) => set({ title: event.target.value })}
      />
      <Field
        label="Bouts for each voter"
        hint="About half a minute each"
        inputMode="numeric"
        value={draft.quota}
        error={issues["quota"]}
        onChange={(event) => set({ quota: event.target.value })}
      />
      {panel === undefined ? <ContestFields {...{ draft, issues, set }} /> : null}
      <TextArea
        label="A word to the voters"
        rows={2}
        className="col-span-full"
        value={draft.message}
        error={issues["message"]}
        onChange={(event) => set({ message: event.target.value })}
      />
      <Field
        label="Closes at"
        hint="Your own time. Empty: until you close it"
        type="datetime-local"
        value={draft.closesAt}
        error={issues["closesAt"]}
        onChange={(event) => set({ closesAt: event.target.value })}
      />
      <SelectField
        label="Blank and crashed entries"
        hint="Shown beside the ratings"
        value={draft.brokenRule}
        options={Object.entries(BROKEN_WORDS)}
        onChange={(event) => set({ brokenRule: event.target.value as BrokenRule })}
      />
      <SelectField
        label="What was not delivered"
        hint="Refused, or nothing usable, by the model's doing. What the host owes is always left out"
        value={draft.undeliveredRule}
        options={Object.entries(UNDELIVERED_WORDS)}
        onChange={(event) => set({ undeliveredRule: event.target.value as UndeliveredRule })}
      />
      <PanelChoices {...{ edition, issues, set }} promptIds={draft.promptIds} entrantIds={draft.entrantIds} />
      <CheckField
        className="col-span-full"
        label="Ask voters for reasons"
        checked={draft.asksReasons}
        onChange={(event) => set({ asksReasons: event.target.checked })}
      />
      <div className="col-span-full mt-2 flex justify-end">
        <Button tone="primary" type="submit" disabled={isBusy}>
          {isBusy ? "Saving …" : panel === undefined ? "Make the invitation" : "Save"}
        </Button>
      </div>
    </form>
  );
}

type Draft = ReturnType<typeof draftOf>;

interface ContestFieldsProps {
  draft: Draft;
  issues: Record<string, string>;
  set: (part: Partial<Draft>) => void;
}

/** What is asked of the contests that are about pages of some step. */
const STEP_LABELS: Partial<Record<Contest, string>> = {
  rounds: "After how many mends at most",
  mended: "After how many mends at most",
  turn_pages: "After which turn",
};

/** What the panel puts against what: it stays so, since its ballots would mean two things. */
function ContestFields({ draft: { contest, step, newcomerId }, issues, set }: ContestFieldsProps) {
  const { data: entrants = [] } = useListEntrantsQuery();
  const stepLabel = STEP_LABELS[contest];
  const present = entrants.filter(({ retiredAt }) => retiredAt === null);
  return (
    <>
      <SelectField
        label="What is put against what"
        hint={contest === "entrants" ? "These ballots make the ratings" : "Kept out of the ratings, told below them"}
        value={contest}
        options={Contest.options.map((one) => [one, CONTEST_WORDS[one]] as const)}
        onChange={(event) => set({ contest: event.target.value as Contest, newcomerId: null })}
      />
      {contest === "entrants" ? (
        <SelectField
          label="A newcomer to place"
          hint="It stands in every bout, so few ballots place it"
          value={newcomerId ?? ""}
          error={issues["newcomerId"]}
          options={[["", "nobody: all alike"], ...present.map(({ id, name }) => [id, name] as const)]}
          onChange={(event) => set({ newcomerId: event.target.value || null })}
        />
      ) : stepLabel ? (
        <Field
          label={stepLabel}
          inputMode="numeric"
          value={step}
          error={issues["step"]}
          onChange={(event) => set({ step: event.target.value })}
        />
      ) : (
        <span />
      )}
    </>
  );
}
