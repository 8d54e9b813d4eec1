import { PanelInput } from "@tourney/core/contract";
import { listIssues } from "@tourney/core/contract";
import { useState } from "react";
import { toast } from "sonner";
import { Button, Field, TextArea } from "../../ui/controls.js";
import { ErrorNotice } from "../../ui/notices.js";
import { Sheet } from "../../ui/Sheet.js";
import { useAddPanelMutation } from "./voting-api.js";

/** Makes a panel with its open invitation. */
export function PanelForm({
  editionId,
  open,
  onOpenChange,
}: {
  editionId: string;
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  const [title, setTitle] = useState("");
  const [quota, setQuota] = useState("20");
  const [message, setMessage] = useState("");
  const [issues, setIssues] = useState<Record<string, string>>({});
  const [addPanel, { isLoading, error }] = useAddPanelMutation();
  const submit = async () => {
    const parsed = PanelInput.safeParse({ editionId, title, message, quota: Number(quota) });
    if (!parsed.success) {
      setIssues(Object.fromEntries(listIssues(parsed.error).map(({ path, message }) => [path, message])));
      return;
    }
    setIssues({});
    const result = await addPanel(parsed.data);
    if (!result.data) return;
    toast.success(`${title} can be invited now.`);
    setTitle("");
    onOpenChange(false);
  };
  return (
    <Sheet
      title="Invite a panel"
      description="One link makes a voter of everyone who opens it. Nobody needs an account."
      open={open}
      onOpenChange={onOpenChange}
    >
      <form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          void submit();
        }}
        className="grid gap-2"
      >
        {error ? <ErrorNotice error={error} /> : null}
        <Field
          label="Name of the panel"
          value={title}
          error={issues["title"]}
          onChange={(event) => setTitle(event.target.value)}
        />
        <Field
          label="Bouts for each voter"
          hint="About half a minute each"
          inputMode="numeric"
          value={quota}
          error={issues["quota"]}
          onChange={(event) => setQuota(event.target.value)}
        />
        <TextArea
          label="A word to the voters"
          rows={3}
          value={message}
          error={issues["message"]}
          onChange={(event) => setMessage(event.target.value)}
        />
        <div className="mt-2 flex justify-end">
          <Button tone="primary" type="submit" disabled={isLoading}>
            {isLoading ? "Making it …" : "Make the invitation"}
          </Button>
        </div>
      </form>
    </Sheet>
  );
}
