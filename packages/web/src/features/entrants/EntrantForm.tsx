import { type Entrant, EntrantInput, type Protocol } from "@tourney/core/contract";
import { listIssues } from "@tourney/core/contract";
import { useState } from "react";
import { toast } from "sonner";
import { useAddEntrantMutation, useListEntrantsQuery, useReplaceEntrantMutation } from "../../api/entrants-api.js";
import { toApiError } from "../../api/tourney-api.js";
import { Button, Field, SelectField, TextArea, Toggle } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import { Sheet } from "../../ui/Sheet.js";
import { EMPTY_DRAFT, type EntrantDraft, FIELD_PATHS, toDraft, toEntrantInput, toKey } from "./entrant-draft.js";

const PROTOCOLS: readonly [Protocol, string][] = [
  ["chat-completions", "Chat-completions endpoint"],
  ["messages", "Messages endpoint"],
  ["by-hand", "By hand"],
];

interface EntrantFormProps {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  /** The entrant that is changed; a new one is added without it. */
  entrant?: Entrant | null;
}

type Bind = (field: keyof EntrantDraft) => {
  value: string;
  error: string | undefined;
  onChange: (event: { target: { value: string } }) => void;
};

/** Adds or changes an entrant; every field is checked by the same schema that the server uses. */
export function EntrantForm({ open, onOpenChange, entrant = null }: EntrantFormProps) {
  const [draft, setDraft] = useState(entrant ? toDraft(entrant) : EMPTY_DRAFT);
  const [protocol, setProtocol] = useState<Protocol>(entrant?.endpoint.protocol ?? "chat-completions");
  const [issues, setIssues] = useState<Record<string, string>>({});
  const [addEntrant, adding] = useAddEntrantMutation();
  const [replaceEntrant, replacing] = useReplaceEntrantMutation();
  const error = adding.error ?? replacing.error;
  const isSaving = adding.isLoading || replacing.isLoading;

  const bind: Bind = (field) => ({
    value: draft[field],
    error: issues[FIELD_PATHS[field]] ?? (field === "name" ? issues["key"] : undefined),
    onChange: (event) => setDraft({ ...draft, [field]: event.target.value }),
  });

  const submit = async () => {
    const parsed = EntrantInput.safeParse(toEntrantInput(draft, protocol, entrant?.key ?? null));
    if (!parsed.success) {
      setIssues(Object.fromEntries(listIssues(parsed.error).map(({ path, message }) => [path, message])));
      return;
    }
    setIssues({});
    const result = await (entrant
      ? replaceEntrant({ entrantId: entrant.id, input: parsed.data })
      : addEntrant(parsed.data));
    if (result.error) {
      setIssues(Object.fromEntries(toApiError(result.error).issues.map(({ path, message }) => [path, message])));
      return;
    }
    toast.success(saidAfter(entrant, result.data));
    if (!entrant) setDraft(EMPTY_DRAFT);
    onOpenChange(false);
  };

  return (
    <Sheet
      title={entrant ? `Change ${entrant.name}` : "Add an entrant"}
      description={
        entrant && entrant.generations > 0
          ? "It has answered already: what was answered keeps its settings, and a change of them makes the next version."
          : "A model at an endpoint with pinned settings. An empty setting is not sent, so the endpoint's default holds."
      }
      open={open}
      onOpenChange={onOpenChange}
    >
      <form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          void submit();
        }}
      >
        {error ? <ErrorNotice error={error} /> : null}
        <div className="mb-3 flex flex-wrap gap-2" role="group" aria-label="How it is reached">
          {PROTOCOLS.map(([value, label]) => (
            <Toggle key={value} pressed={protocol === value} onClick={() => setProtocol(value)}>
              {label}
            </Toggle>
          ))}
        </div>
        <div className="grid grid-cols-6 gap-x-4 gap-y-2">
          <Field
            className="col-span-3"
            label="Name"
            hint={`Key: ${entrant?.key ?? (toKey(draft.name) || "from the name")}`}
            {...bind("name")}
          />
          <Field className="col-span-3" label="Maker" {...bind("maker")} />
          {protocol === "by-hand" ? null : <EndpointFields bind={bind} />}
          <Field
            className="col-span-2"
            label="Input price"
            hint="$ a million tokens"
            inputMode="decimal"
            {...bind("priceIn")}
          />
          <Field
            className="col-span-2"
            label="Output price"
            hint="$ a million tokens"
            inputMode="decimal"
            {...bind("priceOut")}
          />
          <LineField bind={bind} ownKey={entrant?.key ?? null} />
        </div>
        <MoreFields bind={bind} isByHand={protocol === "by-hand"} />
        <div className="mt-4 flex justify-end">
          <Button tone="primary" type="submit" disabled={isSaving}>
            {isSaving ? "Saving …" : entrant ? "Save" : "Add"}
          </Button>
        </div>
      </form>
    </Sheet>
  );
}

function saidAfter(before: Entrant | null, after: Entrant): string {
  if (before === null) return `${after.name} is entered.`;
  return after.version > before.version
    ? `${after.name} is now at version ${after.version}.`
    : `${after.name} is changed.`;
}

const withDash = (value: string) => [value, value === "" ? "—" : value] as const;

function EndpointFields({ bind }: { bind: Bind }) {
  return (
    <>
      <Field className="col-span-4" label="Base URL" hint="As in http://localhost:9105/v1" {...bind("baseUrl")} />
      <Field className="col-span-2" label="Requests at once" inputMode="numeric" {...bind("concurrency")} />
      <Field className="col-span-3" label="Model id" hint="Sent to the endpoint as it stands" {...bind("model")} />
      <Field
        className="col-span-3"
        label="Key variable"
        hint="The environment variable's name, not the key"
        {...bind("keyVariable")}
      />
      <Field className="col-span-2" label="Temperature" inputMode="decimal" {...bind("temperature")} />
      <Field className="col-span-2" label="Top-p" inputMode="decimal" {...bind("topP")} />
      <Field className="col-span-2" label="Max tokens" inputMode="numeric" {...bind("maxTokens")} />
      <SelectField
        className="col-span-2"
        label="Reasoning effort"
        options={["", "none", "minimal", "low", "medium", "high"].map(withDash)}
        {...bind("reasoningEffort")}
      />
      <Field
        className="col-span-2"
        label="Reasoning budget"
        hint="tokens; 0 is off"
        inputMode="numeric"
        {...bind("reasoningBudget")}
      />
      <Field className="col-span-2" label="Seed" inputMode="numeric" {...bind("seed")} />
      <TextArea className="col-span-6" label="System prompt" rows={2} {...bind("systemPrompt")} />
    </>
  );
}

function LineField({ bind, ownKey }: { bind: Bind; ownKey: string | null }) {
  const { currentData: entrants = [] } = useListEntrantsQuery();
  const others = entrants.filter(({ key }) => key !== ownKey);
  if (others.length === 0) return <span className="col-span-2" />;
  return (
    <SelectField
      className="col-span-2"
      label="Succeeds"
      options={[withDash(""), ...others.map(({ key, name }) => [key, name] as const)]}
      {...bind("predecessor")}
    />
  );
}

function MoreFields({ bind, isByHand }: { bind: Bind; isByHand: boolean }) {
  return (
    <details className="mt-3 border-t border-rule pt-2">
      <summary className="cursor-pointer font-semibold">More settings</summary>
      <div className="mt-2 grid grid-cols-6 gap-x-4 gap-y-2">
        {isByHand ? null : (
          <>
            <Field
              className="col-span-2"
              label="First token within"
              hint="seconds"
              inputMode="numeric"
              {...bind("firstTokenSeconds")}
            />
            <Field
              className="col-span-2"
              label="Between tokens"
              hint="seconds"
              inputMode="numeric"
              {...bind("betweenTokensSeconds")}
            />
            <Field
              className="col-span-2"
              label="Whole answer within"
              hint="seconds"
              inputMode="numeric"
              {...bind("totalSeconds")}
            />
            <Field
              className="col-span-3"
              label="Requests a minute"
              hint="of the endpoint, by all its entrants"
              inputMode="numeric"
              {...bind("requestsPerMinute")}
            />
            <Field
              className="col-span-3"
              label="Tokens a minute"
              hint="of the endpoint, by all its entrants"
              inputMode="numeric"
              {...bind("tokensPerMinute")}
            />
            <TextArea
              className="col-span-6"
              label="Extra members of the request"
              hint='JSON, sent as it is, as in {"top_k": 40}'
              mono
              rows={2}
              {...bind("extra")}
            />
          </>
        )}
        <Field
          className="col-span-2"
          label="Cached input price"
          hint="$ a million tokens"
          inputMode="decimal"
          {...bind("priceCached")}
        />
        <Field
          className="col-span-2"
          label="Reasoning price"
          hint="$ a million tokens"
          inputMode="decimal"
          {...bind("priceReasoning")}
        />
        <Field
          className="col-span-2"
          label="Price a request"
          hint="$"
          inputMode="decimal"
          {...bind("pricePerRequest")}
        />
        <Field
          className="col-span-6"
          label="Other names"
          hint="It may tell itself by these; separated by commas"
          {...bind("aliases")}
        />
      </div>
    </details>
  );
}
