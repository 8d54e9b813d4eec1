import type { Entrant } from "@tourney/core/contract";
import { useState } from "react";
import { useImportEntrantsMutation, useListEntrantsQuery } from "../../api/entrants-api.js";
import { count } from "../../lib/format.js";
import { Button } from "../../ui/controls.js";
import { EntrantGlyph } from "../../ui/glyphs.js";
import { ImportSheet } from "../../ui/ImportSheet.js";
import { EmptyNotice, ErrorNotice, Loading } from "../../ui/notices.js";
import { ConnectionCell } from "./ConnectionCell.js";
import { EntrantActions } from "./EntrantActions.js";
import { EntrantForm } from "./EntrantForm.js";

/** All entrants, settings side by side with what differs marked. */
export function EntrantsScreen() {
  const { currentData: entrants, error, refetch } = useListEntrantsQuery();
  const [isAdding, setIsAdding] = useState(false);
  const [isImporting, setIsImporting] = useState(false);
  if (entrants === undefined)
    return error ? <ErrorNotice error={error} onRetry={() => void refetch()} /> : <Loading what="the entrants" />;
  const actions = (
    <div className="flex gap-2">
      <Button onClick={() => setIsImporting(true)}>Import…</Button>
      <Button tone="primary" onClick={() => setIsAdding(true)}>
        Add an entrant
      </Button>
    </div>
  );
  return (
    <main>
      {entrants.length === 0 ? (
        <EmptyNotice title="No entrants yet" action={actions}>
          An entrant is a model at an endpoint with pinned settings and prices. The same model with other settings is
          another entrant. Keys are named by their environment variable and never stored.
        </EmptyNotice>
      ) : (
        <>
          <div className="flex items-center justify-between border-b border-rule px-4 py-2.5">
            <h1 className="m-0 text-[18px] leading-6">{count(entrants.length, "entrant")}</h1>
            {actions}
          </div>
          <EntrantTable entrants={entrants} />
        </>
      )}
      <EntrantForm open={isAdding} onOpenChange={setIsAdding} />
      <EntrantsImport open={isImporting} onOpenChange={setIsImporting} />
    </main>
  );
}

function EntrantsImport({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const [importEntrants, { isLoading, error }] = useImportEntrantsMutation();
  return (
    <ImportSheet
      title="Import an entrants file"
      description="New entrants are added, and changed ones changed: those that have answered get their next version."
      what="entrants"
      open={open}
      onOpenChange={onOpenChange}
      isLoading={isLoading}
      error={error}
      onImport={async (yaml) => {
        const { created, changed, unchanged } = await importEntrants(yaml).unwrap();
        return `${count(created, "entrant")} added, ${changed} changed, ${unchanged} there already.`;
      }}
    />
  );
}

interface Column {
  head: string;
  value: (entrant: Entrant) => string;
  isNumber?: boolean;
}

const orDefault = (value: number | string | undefined) => (value === undefined ? "default" : String(value));

const describeReasoning = ({ settings: { reasoningEffort, reasoningBudget } }: Entrant) =>
  [
    reasoningEffort,
    reasoningBudget === undefined ? undefined : reasoningBudget === 0 ? "off" : `${reasoningBudget} tokens`,
  ]
    .filter((part) => part !== undefined)
    .join(", ") || "default";

function describePrices({ prices }: Entrant): string {
  if (prices === undefined) return "not given";
  if (Array.isArray(prices)) return `${prices.length} by date`;
  const sign = prices.currency === "USD" ? "" : ` ${prices.currency}`;
  return `${prices.input} / ${prices.output}${sign}`;
}

const COLUMNS: readonly Column[] = [
  { head: "Model", value: ({ model }) => model },
  { head: "Endpoint", value: ({ endpoint }) => (endpoint.protocol === "by-hand" ? "by hand" : endpoint.baseUrl) },
  { head: "Reasoning", value: describeReasoning },
  { head: "Temp.", value: ({ settings }) => orDefault(settings.temperature), isNumber: true },
  { head: "Top-p", value: ({ settings }) => orDefault(settings.topP), isNumber: true },
  {
    head: "Max tokens",
    value: ({ settings }) => settings.maxTokens?.toLocaleString("en") ?? "default",
    isNumber: true,
  },
  { head: "Seed", value: ({ settings }) => orDefault(settings.seed), isNumber: true },
  { head: "System prompt", value: ({ settings }) => settings.systemPrompt ?? "none" },
  { head: "Extra", value: ({ settings }) => (settings.extra === undefined ? "none" : JSON.stringify(settings.extra)) },
  { head: "$ in / out a million", value: describePrices, isNumber: true },
];

/** The commonest value of a settings column, from which the others differ. */
function commonest(values: readonly string[]): string {
  const counts = new Map<string, number>();
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? "";
}

/** Columns in which a difference is one of settings, not of what the entrant is. */
const COMPARED = new Set(["Reasoning", "Temp.", "Top-p", "Max tokens", "Seed", "System prompt", "Extra"]);
/** Columns that are left out while they say the same of all. */
const SHOWN_WHEN_UNLIKE = new Set(["Top-p", "Seed", "Extra"]);

function EntrantTable({ entrants }: { entrants: Entrant[] }) {
  const usual = new Map(COLUMNS.map((column) => [column.head, commonest(entrants.map(column.value))]));
  const columns = COLUMNS.filter(
    ({ head, value }) =>
      !SHOWN_WHEN_UNLIKE.has(head) || entrants.some((entrant) => !["default", "none"].includes(value(entrant))),
  );
  return (
    <div className="relative overflow-x-auto">
      <table className="w-full border-collapse text-left">
        <thead>
          <tr className="border-b border-strong-rule text-[12px] text-soft">
            <th className="px-4 py-2 font-medium">Entrant</th>
            {columns.map(({ head, isNumber }) => (
              <th key={head} className={`px-3 py-2 font-medium whitespace-nowrap ${isNumber ? "text-right" : ""}`}>
                {head}
              </th>
            ))}
            <th className="px-4 py-2 font-medium">Connection</th>
            <td />
          </tr>
        </thead>
        <tbody>
          {entrants.map((entrant) => (
            <tr key={entrant.id} className={`border-b border-rule align-top ${entrant.retiredAt ? "text-soft" : ""}`}>
              <th scope="row" className="px-4 py-2.5 font-normal">
                <span className="flex items-center gap-2 font-semibold whitespace-nowrap">
                  <EntrantGlyph glyph={entrant.glyph} /> {entrant.name}
                </span>
                <span className="block pl-[22px] text-[12px] leading-4 whitespace-nowrap text-soft">
                  {entrant.maker}
                  {entrant.version > 1 ? ` · version ${entrant.version}` : ""}
                  {entrant.retiredAt ? " · retired" : ""}
                  {entrant.sample ? <span className="text-care-ink"> · sample</span> : null}
                </span>
                {entrant.predecessor ? (
                  <span className="block pl-[22px] text-[12px] leading-4 whitespace-nowrap text-soft">
                    succeeds {entrants.find(({ key }) => key === entrant.predecessor)?.name ?? entrant.predecessor}
                  </span>
                ) : null}
              </th>
              {columns.map(({ head, value, isNumber }) => {
                const text = value(entrant);
                const differs = COMPARED.has(head) && text !== usual.get(head);
                return (
                  <td
                    key={head}
                    className={`max-w-64 truncate px-3 py-2.5 ${isNumber ? "text-right" : ""}`}
                    title={text}
                  >
                    {differs ? (
                      <mark className="border-b-2 border-care bg-transparent text-ink">
                        {text}
                        <span className="sr-only"> (differs)</span>
                      </mark>
                    ) : (
                      text
                    )}
                  </td>
                );
              })}
              <td className="px-4 py-2">
                <ConnectionCell entrant={entrant} />
              </td>
              <td className="px-4 py-2 text-right">
                <EntrantActions entrant={entrant} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="m-0 px-4 py-3 text-[12px] text-soft">
        An underlined setting differs from the commonest. Settings are pinned: what was answered keeps the settings it
        was answered with, and a change of them makes the entrant's next version.
      </p>
    </div>
  );
}
