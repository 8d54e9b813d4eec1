import { type Entrant, type EntrantInput, Protocol, PROTOCOL_LABELS } from "@tourney/core/contract";
import { useState } from "react";
import { type FieldPath, FormProvider, useFieldArray, useForm, useFormContext } from "react-hook-form";
import { toast } from "sonner";
import { useAddEntrantMutation, useListEntrantsQuery, useReplaceEntrantMutation } from "../../api/entrants-api.js";
import { toApiError } from "../../api/tourney-api.js";
import { Button, Field, SelectField, TextArea, Toggle } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import { Sheet } from "../../ui/Sheet.js";
import {
  draftResolver,
  EMPTY_DRAFT,
  EMPTY_PRICE,
  type EntrantDraft,
  fieldOf,
  toDraft,
  toKey,
} from "./entrant-draft.js";

interface EntrantFormProps {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  /** The entrant that is changed; a new one is added without it. */
  entrant?: Entrant | null;
}

/** A field's props by its path in the draft. */
function useBind() {
  const { register, formState, getFieldState } = useFormContext<EntrantDraft>();
  return (path: FieldPath<EntrantDraft>) => ({
    ...register(path),
    error: getFieldState(path, formState).error?.message,
  });
}

/** Adds or changes an entrant; every field is checked by the same schema that the server uses. */
export function EntrantForm({ open, onOpenChange, entrant = null }: EntrantFormProps) {
  const [protocol, setProtocol] = useState<Protocol>(entrant?.endpoint.protocol ?? "chat-completions");
  const form = useForm<EntrantDraft, unknown, EntrantInput>({
    defaultValues: entrant ? toDraft(entrant) : EMPTY_DRAFT,
    resolver: draftResolver({ protocol, key: entrant?.key ?? null, hadPriceList: Array.isArray(entrant?.prices) }),
    shouldFocusError: true,
  });
  const [addEntrant, adding] = useAddEntrantMutation();
  const [replaceEntrant, replacing] = useReplaceEntrantMutation();
  const error = adding.error ?? replacing.error;
  const isSaving = adding.isLoading || replacing.isLoading;

  const save = async (input: EntrantInput) => {
    const result = await (entrant ? replaceEntrant({ entrantId: entrant.id, input }) : addEntrant(input));
    if (result.error) {
      for (const { path, message } of toApiError(result.error).issues)
        form.setError(fieldOf(path, form.getValues()) as FieldPath<EntrantDraft>, { message });
      return;
    }
    toast.success(saidAfter(entrant, result.data));
    if (!entrant) form.reset(EMPTY_DRAFT);
    onOpenChange(false);
  };

  return (
    <Sheet
      title={entrant ? `Change ${entrant.name}` : "Add an entrant"}
      description={
        entrant && entrant.generations > 0
          ? "Another endpoint, model or setting makes another version: what this one answered leaves the wall's front, the booth and the ratings. Names, prices and limits change nothing."
          : "A model at an endpoint with pinned settings. An empty setting is not sent, so the endpoint's default holds."
      }
      open={open}
      onOpenChange={onOpenChange}
    >
      <FormProvider {...form}>
        <form noValidate onSubmit={(event) => void form.handleSubmit(save)(event)}>
          {error ? <ErrorNotice error={error} /> : null}
          <div className="mb-3 flex flex-wrap gap-2" role="group" aria-label="How it is reached">
            {Protocol.options.map((value) => (
              <Toggle key={value} pressed={protocol === value} onClick={() => setProtocol(value)}>
                {PROTOCOL_LABELS[value]}
              </Toggle>
            ))}
          </div>
          <MainFields entrant={entrant} isByHand={protocol === "by-hand"} />
          <PriceFields />
          <MoreFields isByHand={protocol === "by-hand"} />
          <div className="mt-4 flex justify-end">
            <Button tone="primary" type="submit" disabled={isSaving}>
              {isSaving ? "Saving …" : entrant ? "Save" : "Add"}
            </Button>
          </div>
        </form>
      </FormProvider>
    </Sheet>
  );
}

function saidAfter(before: Entrant | null, after: Entrant): string {
  if (before === null) return `${after.name} is entered.`;
  if (after.version === before.version) return `${after.name} is changed.`;
  return after.version > before.version
    ? `${after.name} is now at version ${after.version}: its former answers are a competitor of their own.`
    : `${after.name} is set up as version ${after.version} was: its answers and ballots are back.`;
}

const withDash = (value: string) => [value, value === "" ? "—" : value] as const;

function MainFields({ entrant, isByHand }: { entrant: Entrant | null; isByHand: boolean }) {
  const bind = useBind();
  const { watch } = useFormContext<EntrantDraft>();
  return (
    <div className="grid grid-cols-6 gap-x-4 gap-y-2">
      <Field
        className="col-span-2"
        label="Name"
        hint={`Key: ${entrant?.key ?? (toKey(watch("name")) || "from the name")}`}
        {...bind("name")}
      />
      <Field className="col-span-2" label="Maker" {...bind("maker")} />
      <LineField ownKey={entrant?.key ?? null} />
      {isByHand ? null : <EndpointFields />}
    </div>
  );
}

function EndpointFields() {
  const bind = useBind();
  return (
    <>
      <Field
        className="col-span-4"
        label="Base URL"
        hint="As in http://localhost:9105/v1"
        {...bind("endpoint.baseUrl")}
      />
      <Field className="col-span-2" label="Requests at once" inputMode="numeric" {...bind("endpoint.concurrency")} />
      <Field className="col-span-3" label="Model id" hint="Sent to the endpoint as it stands" {...bind("model")} />
      <Field
        className="col-span-3"
        label="Key variable"
        hint="The environment variable's name, not the key"
        {...bind("endpoint.keyVariable")}
      />
      <Field className="col-span-2" label="Temperature" inputMode="decimal" {...bind("settings.temperature")} />
      <Field className="col-span-2" label="Top-p" inputMode="decimal" {...bind("settings.topP")} />
      <Field className="col-span-2" label="Max tokens" inputMode="numeric" {...bind("settings.maxTokens")} />
      <SelectField
        className="col-span-2"
        label="Reasoning effort"
        options={["", "none", "minimal", "low", "medium", "high"].map(withDash)}
        {...bind("settings.reasoningEffort")}
      />
      <Field
        className="col-span-2"
        label="Reasoning budget"
        hint="tokens; 0 is off"
        inputMode="numeric"
        {...bind("settings.reasoningBudget")}
      />
      <Field className="col-span-2" label="Seed" inputMode="numeric" {...bind("settings.seed")} />
      <TextArea className="col-span-6" label="System prompt" rows={2} {...bind("settings.systemPrompt")} />
    </>
  );
}

function LineField({ ownKey }: { ownKey: string | null }) {
  const bind = useBind();
  const { currentData: entrants } = useListEntrantsQuery();
  const others = (entrants ?? []).filter(({ key }) => key !== ownKey);
  // A choice that is not listed yet would be lost when the list comes.
  if (entrants === undefined || others.length === 0) return <span className="col-span-2" />;
  return (
    <SelectField
      className="col-span-2"
      label="Succeeds"
      options={[withDash(""), ...others.map(({ key, name }) => [key, name] as const)]}
      {...bind("predecessor")}
    />
  );
}

/** One price, or several of which each holds for its own time. */
function PriceFields() {
  const { control } = useFormContext<EntrantDraft>();
  const { fields, append, remove } = useFieldArray({ control, name: "prices" });
  return (
    <section aria-label="Prices" className="mt-3 border-t border-rule pt-2">
      {fields.map(({ id }, index) => (
        <PriceRow key={id} index={index} of={fields.length} onRemove={() => remove(index)} />
      ))}
      <Button compact className="mt-1" onClick={() => append(EMPTY_PRICE)}>
        Add a price for another time
      </Button>
    </section>
  );
}

function PriceRow({ index, of, onRemove }: { index: number; of: number; onRemove: () => void }) {
  const bind = useBind();
  const named = (label: string) => (of === 1 ? label : `${label} ${index + 1}`);
  return (
    <div className="grid grid-cols-6 gap-x-4 gap-y-1">
      <Field
        label={named("Input price")}
        hint="a million tokens"
        inputMode="decimal"
        {...bind(`prices.${index}.input`)}
      />
      <Field
        label={named("Output price")}
        hint="a million tokens"
        inputMode="decimal"
        {...bind(`prices.${index}.output`)}
      />
      <Field
        label={named("Cached input")}
        hint="as input, if empty"
        inputMode="decimal"
        {...bind(`prices.${index}.cachedInput`)}
      />
      <Field
        label={named("Reasoning")}
        hint="as output, if empty"
        inputMode="decimal"
        {...bind(`prices.${index}.reasoning`)}
      />
      <Field label={named("Price a request")} inputMode="decimal" {...bind(`prices.${index}.perRequest`)} />
      <Field label={named("Currency")} maxLength={3} {...bind(`prices.${index}.currency`)} />
      <Field
        className="col-span-2"
        label={named("US dollars for one")}
        hint="of another currency"
        inputMode="decimal"
        {...bind(`prices.${index}.usdRate`)}
      />
      <Field className="col-span-2" label={named("Valid from")} type="date" {...bind(`prices.${index}.validFrom`)} />
      <Field className="col-span-2" label={named("Valid until")} type="date" {...bind(`prices.${index}.validUntil`)} />
      {of > 1 ? (
        <Button compact className="col-span-6 mb-2 justify-self-end" onClick={onRemove}>
          Remove price {index + 1}
        </Button>
      ) : null}
    </div>
  );
}

function MoreFields({ isByHand }: { isByHand: boolean }) {
  const bind = useBind();
  return (
    <details className="mt-3 border-t border-rule pt-2">
      <summary className="cursor-pointer font-semibold">More settings</summary>
      <div className="mt-2 grid grid-cols-6 gap-x-4 gap-y-2">
        {isByHand ? null : <LimitFields />}
        <TextArea
          className="col-span-6"
          label="Other names"
          hint="It may tell itself by these; one a line"
          rows={2}
          {...bind("aliases")}
        />
      </div>
    </details>
  );
}

function LimitFields() {
  const bind = useBind();
  return (
    <>
      <Field
        className="col-span-2"
        label="First token within"
        hint="seconds"
        inputMode="numeric"
        {...bind("settings.timeLimits.firstTokenSeconds")}
      />
      <Field
        className="col-span-2"
        label="Between tokens"
        hint="seconds"
        inputMode="numeric"
        {...bind("settings.timeLimits.betweenTokensSeconds")}
      />
      <Field
        className="col-span-2"
        label="Whole answer within"
        hint="seconds"
        inputMode="numeric"
        {...bind("settings.timeLimits.totalSeconds")}
      />
      <Field
        className="col-span-3"
        label="Requests a minute"
        hint="of the endpoint, by all its entrants"
        inputMode="numeric"
        {...bind("endpoint.requestsPerMinute")}
      />
      <Field
        className="col-span-3"
        label="Tokens a minute"
        hint="of the endpoint, by all its entrants"
        inputMode="numeric"
        {...bind("endpoint.tokensPerMinute")}
      />
      <TextArea
        className="col-span-6"
        label="Extra members of the request"
        hint='JSON, sent as it is, as in {"top_k": 40}'
        mono
        rows={2}
        {...bind("settings.extra")}
      />
    </>
  );
}
