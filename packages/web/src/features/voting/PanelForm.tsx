import {
  type BrokenRule,
  type Edition,
  Kind,
  listIssues,
  type Panel,
  PanelChange,
  type UndeliveredRule,
} from "@tourney/core/contract";
import { useState } from "react";
import { toast } from "sonner";
import { useListEntrantsQuery } from "../../api/entrants-api.js";
import { BROKEN_WORDS, UNDELIVERED_WORDS } from "@tourney/core/conclusions";
import { Button, CheckField, Field, SelectField, TextArea, Toggle } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import { Sheet } from "../../ui/Sheet.js";
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
    const parsed = PanelChange.safeParse({
      ...draft,
      quota: Number(draft.quota),
      closesAt: draft.closesAt === "" ? null : new Date(draft.closesAt).toISOString(),
    });
    if (!parsed.success) {
      setIssues(Object.fromEntries(listIssues(parsed.error).map(({ path, message }) => [path, message])));
      return;
    }
    setIssues({});
    const result =
      panel === undefined
        ? await addPanel({ editionId: edition.id, ...parsed.data })
        : await changePanel({ panelId: panel.id, change: parsed.data });
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
      <Choices {...{ edition, issues, set }} promptIds={draft.promptIds} entrantIds={draft.entrantIds} />
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

interface ChoicesProps extends Pick<PanelChange, "promptIds" | "entrantIds"> {
  edition: Edition;
  issues: Record<string, string>;
  set: (part: Partial<Pick<PanelChange, "promptIds" | "entrantIds">>) => void;
}

/** What the panel shows. */
function Choices({ edition: { prompts }, promptIds, entrantIds, issues, set }: ChoicesProps) {
  const { data: entrants = [] } = useListEntrantsQuery();
  return (
    <>
      <Choice
        legend="Prompts"
        error={issues["promptIds"]}
        items={prompts.map(({ id, title }) => ({ id, name: title }))}
        chosen={promptIds}
        groups={Kind.options.map((kind) => ({
          name: `${kind}s`,
          ids: prompts.filter((prompt) => prompt.kind === kind).map(({ id }) => id),
        }))}
        onChange={(chosen) => set({ promptIds: chosen })}
      />
      <Choice
        legend="Entrants"
        error={issues["entrantIds"]}
        items={entrants.map(({ id, name }) => ({ id, name }))}
        chosen={entrantIds}
        groups={[]}
        onChange={(chosen) => set({ entrantIds: chosen })}
      />
    </>
  );
}

interface ChoiceProps {
  legend: string;
  error: string | undefined;
  items: readonly { id: string; name: string }[];
  /** Null: all, also those that are yet to come. */
  chosen: readonly string[] | null;
  groups: readonly { name: string; ids: readonly string[] }[];
  onChange: (chosen: string[] | null) => void;
}

/** All of some things, or the ones that are pressed. */
function Choice({ legend, error, items, chosen, groups, onChange }: ChoiceProps) {
  const isOn = (id: string) => chosen === null || chosen.includes(id);
  const toggle = (id: string) => {
    const now = chosen ?? items.map((item) => item.id);
    onChange(now.includes(id) ? now.filter((other) => other !== id) : [...now, id]);
  };
  return (
    <fieldset className="col-span-full m-0 min-w-0 border-0 p-0">
      <legend className="mb-1 p-0 text-[13px] font-medium">
        {legend}
        {chosen === null ? (
          <span className="font-normal text-soft"> · all, also later ones</span>
        ) : (
          <button
            type="button"
            className="ml-2 border-0 border-b border-dotted border-soft bg-transparent p-0 text-[13px] font-normal text-soft hover:text-ink"
            onClick={() => onChange(null)}
          >
            all
          </button>
        )}
        {groups
          .filter(({ ids }) => ids.length > 0)
          .map(({ name, ids }) => (
            <button
              key={name}
              type="button"
              className="ml-2 border-0 border-b border-dotted border-soft bg-transparent p-0 text-[13px] font-normal text-soft hover:text-ink"
              onClick={() => onChange([...ids])}
            >
              only {name}
            </button>
          ))}
      </legend>
      <div className="flex flex-wrap gap-1">
        {items.map(({ id, name }) => (
          <Toggle key={id} pressed={isOn(id)} onClick={() => toggle(id)}>
            {name}
          </Toggle>
        ))}
      </div>
      {error === undefined ? null : <p className="m-0 mt-1 text-[13px] text-broken">{error}</p>}
    </fieldset>
  );
}
