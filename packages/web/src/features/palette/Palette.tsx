import { splitWords } from "@tourney/core/contract";
import { Dialog } from "radix-ui";
import { skipToken } from "@reduxjs/toolkit/query";
import { useEffect, useId, useMemo, useState } from "react";
import { useLocation } from "react-router";
import { useEditionNavigate } from "../../api/edition-links.js";
import { useEdition } from "../../api/use-edition.js";
import { useGetWallQuery } from "../../api/wall-api.js";
import { wantsKeys } from "../../lib/use-keys.js";
import { Kbd } from "../../ui/controls.js";
import { RuleGuide } from "../../ui/RuleGuide.js";
import { Sheet } from "../../ui/Sheet.js";
import { asItem, findItems, listItems, markWords, type PaletteItem } from "./find-items.js";
import { useTextSearch } from "./use-text-search.js";
import { listKeys } from "./screen-keys.js";

const MOST_ITEMS = 12;

/** Ctrl K and / find a screen, an entry or something to do; ? lists the keys of the screen one is on. */
export function Palette() {
  const [open, setOpen] = useState<"palette" | "keys" | null>(null);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const isChord = (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k";
      if (!isChord && (wantsKeys(event.target) || event.ctrlKey || event.metaKey || event.altKey)) return;
      if (!isChord && event.key !== "/" && event.key !== "?") return;
      event.preventDefault();
      setOpen(event.key === "?" ? "keys" : "palette");
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  const change = (isOpen: boolean) => {
    if (!isOpen) setOpen(null);
  };
  return (
    <>
      <Dialog.Root open={open === "palette"} onOpenChange={change}>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-40 bg-[#0008]" />
          <Dialog.Content
            aria-describedby={undefined}
            className="fixed top-[12vh] left-1/2 z-50 w-[min(600px,94vw)] -translate-x-1/2 rounded border border-rule bg-ground shadow-xl"
          >
            <Dialog.Title className="sr-only">Go to</Dialog.Title>
            <Finder onDone={() => setOpen(null)} />
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
      <KeysSheet open={open === "keys"} onOpenChange={change} />
    </>
  );
}

function Finder({ onDone }: { onDone: () => void }) {
  const { edition } = useEdition();
  const { data: wall } = useGetWallQuery(edition ? { editionId: edition.id, take: 1 } : skipToken);
  const navigate = useEditionNavigate();
  const [typed, setTyped] = useState("");
  const [active, setActive] = useState(0);
  const list = useId();
  const items = useMemo(() => listItems(wall), [wall]);
  const { hits, isSearching } = useTextSearch(edition?.id, typed);
  const found = useMemo(
    () => [...findItems(items, typed, MOST_ITEMS), ...hits.map((hit) => asItem(hit))],
    [items, typed, hits],
  );
  const at = Math.min(active, Math.max(0, found.length - 1));
  const go = (item: PaletteItem | undefined) => {
    if (item === undefined) return;
    onDone();
    navigate(item.to);
  };
  return (
    <>
      <input
        autoFocus
        role="combobox"
        aria-label="Go to"
        aria-expanded
        aria-controls={list}
        aria-activedescendant={found.length === 0 ? undefined : `${list}-${at}`}
        placeholder="A screen, a prompt, an entry, words of an answer or a note"
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          setActive(0);
        }}
        onKeyDown={(event) => {
          const by = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
          if (by !== 0) setActive(Math.min(found.length - 1, Math.max(0, at + by)));
          if (event.key === "Enter") go(found[at]);
          if (by !== 0 || event.key === "Enter") event.preventDefault();
        }}
        className="block h-12 w-full border-0 border-b border-rule bg-sheet px-4 text-[16px] text-ink outline-none placeholder:text-soft"
      />
      <ul id={list} role="listbox" aria-label="Found" className="m-0 max-h-[50vh] list-none overflow-auto p-0 py-1">
        {found.map((item, index) => (
          <li
            key={`${item.sort} ${item.to} ${item.excerpt ?? ""}`}
            id={`${list}-${index}`}
            role="option"
            aria-selected={index === at}
            onClick={() => go(item)}
            onMouseMove={() => setActive(index)}
            className={`flex cursor-pointer items-center gap-3 px-4 py-1.5 ${index === at ? "bg-ink text-ground" : ""}`}
          >
            <span className="min-w-0 flex-1">
              <span className="block truncate">{item.label}</span>
              {item.excerpt === undefined ? null : (
                <span className="block truncate font-mono text-[12px] opacity-80">
                  <Marked text={item.excerpt} words={splitWords(typed)} />
                </span>
              )}
            </span>
            <span className="text-[13px] opacity-80">{item.sort}</span>
          </li>
        ))}
      </ul>
      <p role="status" className={found.length === 0 ? "m-0 px-4 py-3 text-soft" : "sr-only"}>
        {isSearching
          ? "Searching …"
          : found.length === 0
            ? "Nothing is called that, and no text has these words."
            : `${found.length} found`}
      </p>
      <p className="m-0 flex gap-3 border-t border-rule px-4 py-2 text-[13px] text-soft">
        <span>
          <Kbd>↑</Kbd> <Kbd>↓</Kbd> choose
        </span>
        <span>
          <Kbd>Enter</Kbd> go
        </span>
        <span>
          <Kbd>Esc</Kbd> close
        </span>
      </p>
    </>
  );
}

/** A text with what was searched for in bold. */
function Marked({ text, words }: { text: string; words: readonly string[] }) {
  return markWords(text, words).map(({ text: part, isFound }, index) =>
    isFound ? <b key={index}>{part}</b> : <span key={index}>{part}</span>,
  );
}

function KeysSheet({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const { pathname } = useLocation();
  return (
    <Sheet title="Keys" description="What the keyboard does on this screen." open={open} onOpenChange={onOpenChange}>
      {listKeys(pathname).map(({ title, keys }) => (
        <section key={title} className="mb-5">
          <h3 className="m-0 border-b border-strong-rule pb-1 text-[15px]">{title}</h3>
          <dl className="m-0">
            {keys.map(([key, does]) => (
              <div key={key} className="grid grid-cols-[132px_1fr] border-b border-rule py-1.5">
                <dt className="font-mono text-[13px]">{key}</dt>
                <dd className="m-0">{does}</dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
      <RuleGuide />
    </Sheet>
  );
}
