import type { Entrant } from "@tourney/core/contract";
import { useState } from "react";
import { toast } from "sonner";
import { useAddEntrantMutation, useRemoveEntrantMutation, useRetireEntrantMutation } from "../../api/entrants-api.js";
import { toApiError } from "../../api/tourney-api.js";
import { Button } from "../../ui/controls.js";
import { EntrantForm } from "./EntrantForm.js";
import { toInputOf } from "./entrant-draft.js";

/** Change, and retire or remove: what has entries is only ever retired, and can come back. */
export function EntrantActions({ entrant }: { entrant: Entrant }) {
  const [isChanging, setIsChanging] = useState(false);
  const [retire, retiring] = useRetireEntrantMutation();
  const [remove, removing] = useRemoveEntrantMutation();
  const [add] = useAddEntrantMutation();
  const isBusy = retiring.isLoading || removing.isLoading;
  const setRetired = async (retired: boolean) => {
    const result = await retire({ entrantId: entrant.id, retired });
    if (result.error) toast.error(toApiError(result.error).detail);
    else if (retired)
      toast.success(`${entrant.name} is retired: it stays on the wall and takes part in no further run.`, {
        action: { label: "Undo", onClick: () => void setRetired(false) },
      });
  };
  const bringBack = async () => {
    const result = await add(toInputOf(entrant));
    if (result.error) toast.error(toApiError(result.error).detail);
  };
  const onRemove = async () => {
    const result = await remove(entrant.id);
    if (result.error) toast.error(toApiError(result.error).detail);
    else
      toast.success(`${entrant.name} is removed. It had no answers.`, {
        action: { label: "Undo", onClick: () => void bringBack() },
      });
  };
  return (
    <span className="flex justify-end gap-2">
      <Button compact aria-label={`Change ${entrant.name}`} onClick={() => setIsChanging(true)}>
        Change…
      </Button>
      {entrant.retiredAt ? (
        <Button
          compact
          disabled={isBusy}
          aria-label={`Bring ${entrant.name} back`}
          onClick={() => void setRetired(false)}
        >
          Bring back
        </Button>
      ) : entrant.generations > 0 ? (
        <Button compact disabled={isBusy} aria-label={`Retire ${entrant.name}`} onClick={() => void setRetired(true)}>
          Retire
        </Button>
      ) : (
        <Button compact disabled={isBusy} aria-label={`Remove ${entrant.name}`} onClick={() => void onRemove()}>
          Remove
        </Button>
      )}
      {isChanging ? <EntrantForm open onOpenChange={setIsChanging} entrant={entrant} /> : null}
    </span>
  );
}
