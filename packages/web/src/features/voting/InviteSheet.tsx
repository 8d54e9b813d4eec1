import type { Panel } from "@tourney/core/contract";
import { useState } from "react";
import { toast } from "sonner";
import { count } from "../../lib/format.js";
import { describeUnreadable, readTextFile } from "../../lib/read-text-file.js";
import { Button, TextArea } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import { Sheet } from "../../ui/Sheet.js";
import { invitationsCsv, readNames } from "./voter-csv.js";
import { useInviteVotersMutation } from "./voting-api.js";

/** Makes personal links, from names or a CSV file, and hands out all there are as a CSV file. */
export function InviteSheet({
  panel,
  open,
  onOpenChange,
}: {
  panel: Panel;
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  const [text, setText] = useState("");
  const [invite, { isLoading, error }] = useInviteVotersMutation();
  const { names, problem } = readNames(text);
  const links = panel.voters.filter(({ url, revoked }) => url !== null && !revoked).length;
  const submit = async () => {
    const result = await invite({ panelId: panel.id, names });
    if (!result.data) return;
    toast.success(`${count(names.length, "link")} made.`);
    setText("");
  };
  const readNamesOf = async (file: File | undefined) => {
    if (file) await readTextFile(file).then(setText, (thrown: unknown) => toast.error(describeUnreadable(thrown)));
  };
  const download = () => {
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([invitationsCsv(panel)], { type: "text/csv" }));
    link.download = "invitations.csv";
    link.click();
    URL.revokeObjectURL(link.href);
  };
  return (
    <Sheet
      title={`Personal links for ${panel.title}`}
      description="Each link belongs to one voter and works on every device of theirs, where they left off."
      open={open}
      onOpenChange={onOpenChange}
    >
      {error ? <ErrorNotice error={error} /> : null}
      <TextArea
        label="Names"
        hint="One a line, or the contents of a CSV file whose first column has the names"
        error={problem ?? undefined}
        rows={6}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <label className="cursor-pointer border-b border-dotted border-soft text-soft hover:text-ink">
          Take them from a file
          <input
            type="file"
            accept=".csv,.txt,text/csv,text/plain"
            className="sr-only"
            onChange={(event) => void readNamesOf(event.target.files?.[0])}
          />
        </label>
        <span className="ml-auto flex gap-2">
          <Button disabled={links === 0} onClick={download}>
            {links === 0 ? "No links yet" : `Download ${count(links, "link")}`}
          </Button>
          <Button tone="primary" disabled={names.length === 0 || isLoading} onClick={() => void submit()}>
            {names.length === 0 ? "Make links" : `Make ${count(names.length, "link")}`}
          </Button>
        </span>
      </div>
    </Sheet>
  );
}
