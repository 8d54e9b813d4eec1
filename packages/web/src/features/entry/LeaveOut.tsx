import type { EntryDetail } from "@tourney/core/contract";
import { toast } from "sonner";
import { Button } from "../../ui/controls.js";
import { useLeaveEntryOutMutation, useTakeEntryInMutation } from "./entry-api.js";

/** Shows an entry to no voter from now on, or to voters again. Ballots that were cast on it stay. */
export function LeaveOut({ entry: { id, leftOut, facts } }: { entry: EntryDetail }) {
  const [leaveOut, leaving] = useLeaveEntryOutMutation();
  const [takeIn, taking] = useTakeEntryInMutation();
  const isBusy = leaving.isLoading || taking.isLoading;
  const namesItself = facts.leaks.some(({ confidence }) => confidence !== "low");
  if (leftOut !== null) {
    return (
      <Button disabled={isBusy} title={`Left out: ${leftOut}`} onClick={() => void takeIn(id)}>
        Show to voters again
      </Button>
    );
  }
  const leave = async () => {
    const why = namesItself ? "names its maker" : "by hand";
    const result = await leaveOut({ entryId: id, why });
    if (result.data)
      toast.success("No voter is shown this entry from now on.", {
        action: { label: "Undo", onClick: () => void takeIn(id) },
      });
  };
  return (
    <Button disabled={isBusy} onClick={() => void leave()}>
      Keep from voters
    </Button>
  );
}
