import { EntrantInput } from "@tourney/core/contract";
import { useState } from "react";
import { toast } from "sonner";
import { useAddEntrantMutation } from "../../api/entrants-api.js";
import { toApiError } from "../../api/tourney-api.js";
import { Button, Field, TextArea, Toggle } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import { Sheet } from "../../ui/Sheet.js";

const EMPTY = {
  name: "",
  maker: "",
  baseUrl: "",
  keyVariable: "",
  concurrency: "2",
  model: "",
  temperature: "",
  topP: "",
  maxTokens: "",
  systemPrompt: "",
  priceIn: "",
  priceOut: "",
};
type Draft = typeof EMPTY;

const toKey = (name: string) =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "");
/** An empty field is left out; text that is not a number stays text, so that the schema says what is wrong with it. */
const number = (text: string) => (text.trim() === "" ? undefined : Number.isNaN(Number(text)) ? text : Number(text));
const withoutAbsent = (value: object) =>
  Object.fromEntries(Object.entries(value).filter(([, item]) => item !== undefined && item !== ""));

function toInput(draft: Draft, isByHand: boolean): unknown {
  const {
    name,
    maker,
    baseUrl,
    keyVariable,
    concurrency,
    model,
    temperature,
    topP,
    maxTokens,
    systemPrompt,
    priceIn,
    priceOut,
  } = draft;
  const hasPrices = priceIn.trim() !== "" || priceOut.trim() !== "";
  return {
    key: toKey(name),
    name,
    maker,
    model: model || (isByHand ? name : ""),
    endpoint: isByHand
      ? { protocol: "by-hand" }
      : withoutAbsent({ protocol: "chat-completions", baseUrl, keyVariable, concurrency: number(concurrency) }),
    settings: withoutAbsent({
      temperature: number(temperature),
      topP: number(topP),
      maxTokens: number(maxTokens),
      systemPrompt,
    }),
    ...(hasPrices ? { prices: { input: number(priceIn) ?? 0, output: number(priceOut) ?? 0 } } : {}),
  };
}

/** Which field an issue of the schema belongs to. */
const FIELD_PATHS: Record<keyof Draft, string> = {
  name: "name",
  maker: "maker",
  baseUrl: "endpoint.baseUrl",
  keyVariable: "endpoint.keyVariable",
  concurrency: "endpoint.concurrency",
  model: "model",
  temperature: "settings.temperature",
  topP: "settings.topP",
  maxTokens: "settings.maxTokens",
  systemPrompt: "settings.systemPrompt",
  priceIn: "prices.input",
  priceOut: "prices.output",
};

/** Adds an entrant; every field is checked by the same schema that the server uses. */
export function EntrantForm({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const [draft, setDraft] = useState(EMPTY);
  const [isByHand, setIsByHand] = useState(false);
  const [issues, setIssues] = useState<Record<string, string>>({});
  const [addEntrant, { isLoading, error }] = useAddEntrantMutation();

  const bind = (field: keyof Draft) => ({
    value: draft[field],
    error: issues[FIELD_PATHS[field]] ?? (field === "name" ? issues["key"] : undefined),
    onChange: (event: { target: { value: string } }) => setDraft({ ...draft, [field]: event.target.value }),
  });

  const submit = async () => {
    const parsed = EntrantInput.safeParse(toInput(draft, isByHand));
    if (!parsed.success) {
      setIssues(Object.fromEntries(parsed.error.issues.map((issue) => [issue.path.join("."), issue.message])));
      return;
    }
    setIssues({});
    const result = await addEntrant(parsed.data);
    if (result.error) {
      setIssues(Object.fromEntries(toApiError(result.error).issues.map(({ path, message }) => [path, message])));
      return;
    }
    toast.success(`${draft.name} is entered.`);
    setDraft(EMPTY);
    onOpenChange(false);
  };

  return (
    <Sheet
      title="Add an entrant"
      description="A model at an endpoint with pinned settings. An empty setting is not sent, so the endpoint's default holds."
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
        <div className="mb-3 flex gap-2" role="group" aria-label="How it is reached">
          <Toggle pressed={!isByHand} onClick={() => setIsByHand(false)}>
            Chat-completions endpoint
          </Toggle>
          <Toggle pressed={isByHand} onClick={() => setIsByHand(true)}>
            By hand
          </Toggle>
        </div>
        <div className="grid grid-cols-6 gap-x-4 gap-y-2">
          <Field
            className="col-span-3"
            label="Name"
            hint={`Key: ${toKey(draft.name) || "from the name"}`}
            {...bind("name")}
          />
          <Field className="col-span-3" label="Maker" {...bind("maker")} />
          {isByHand ? null : <EndpointFields bind={bind} />}
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
        </div>
        <div className="mt-4 flex justify-end">
          <Button tone="primary" type="submit" disabled={isLoading}>
            {isLoading ? "Adding …" : "Add"}
          </Button>
        </div>
      </form>
    </Sheet>
  );
}

function EndpointFields({
  bind,
}: {
  bind: (field: keyof Draft) => {
    value: string;
    error: string | undefined;
    onChange: (event: { target: { value: string } }) => void;
  };
}) {
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
      <TextArea className="col-span-6" label="System prompt" rows={2} {...bind("systemPrompt")} />
    </>
  );
}
