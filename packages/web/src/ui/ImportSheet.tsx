import { MOST_YAML_LENGTH, YAML_TOO_LONG } from "@tourney/core/contract";
import { type ReactNode, useState } from "react";
import { toast } from "sonner";
import { Button, TextArea } from "./controls.js";
import { ErrorNotice } from "./notices.js";
import { Sheet } from "./Sheet.js";
import { describeUnreadable, readTextFile } from "../lib/read-text-file.js";

interface ImportSheetProps {
  title: string;
  description: string;
  /** Names the file: "suite", "entrants". */
  what: string;
  open: boolean;
  onOpenChange: (open: boolean) => void;
  isLoading: boolean;
  error: unknown;
  /** Takes the text in; resolves with what to say about it. */
  onImport: (yaml: string) => Promise<string>;
  /** Asks what taking it in would change; without it the text is taken in at once. */
  onPreview?: (yaml: string) => Promise<void>;
  /** What is known of a text that was asked about, or null. */
  preview?: (yaml: string) => ReactNode;
}

/** Takes in a YAML file by choosing, dropping or pasting it; what is wrong with it is said beside it and the text stays. */
export function ImportSheet({
  title,
  description,
  what,
  open,
  onOpenChange,
  isLoading,
  error,
  onImport,
  onPreview,
  preview,
}: ImportSheetProps) {
  const [text, setText] = useState("");
  const [refused, setRefused] = useState<string | null>(null);
  const read = async (file: File | undefined) => {
    if (!file) return;
    // A character takes up to four bytes. A longer file is not even read: the text field would stand still on it.
    const isTooLong = file.size > MOST_YAML_LENGTH * 4;
    setRefused(isTooLong ? `${file.name} ${YAML_TOO_LONG}. Check that it is the file you mean.` : null);
    if (!isTooLong) await readTextFile(file).then(setText, (error: unknown) => setRefused(describeUnreadable(error)));
  };
  const submit = async () => {
    try {
      toast.success(await onImport(text));
      onOpenChange(false);
      setText("");
    } catch {
      // The mutation's own error is shown above the text, which stays.
    }
  };
  const known = preview?.(text) ?? null;
  const isKnown = onPreview === undefined || known !== null;
  const ask = async () => {
    await onPreview?.(text).catch(() => undefined);
  };
  return (
    <Sheet title={title} description={description} open={open} onOpenChange={onOpenChange}>
      <div
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault();
          void read(event.dataTransfer.files[0]);
        }}
      >
        <label className="mb-3 flex items-center gap-3">
          <span className="font-semibold">File</span>
          <input type="file" accept=".yaml,.yml" onChange={(event) => void read(event.target.files?.[0])} />
        </label>
        {refused === null ? null : (
          <p role="alert" className="mt-0 text-broken">
            {refused}
          </p>
        )}
        {error ? <ErrorNotice error={error} /> : null}
        {known}
        <TextArea
          label={`The ${what} file's text`}
          hint="Drop a file here, or paste its text."
          mono
          rows={18}
          value={text}
          spellCheck={false}
          onChange={(event) => setText(event.target.value)}
        />
        <div className="mt-3 flex justify-end">
          <Button
            tone="primary"
            disabled={text.trim() === "" || isLoading}
            onClick={() => void (isKnown ? submit() : ask())}
          >
            {isLoading ? "Reading …" : isKnown ? "Import" : "Compare"}
          </Button>
        </div>
      </div>
    </Sheet>
  );
}
