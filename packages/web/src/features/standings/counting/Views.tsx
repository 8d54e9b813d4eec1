import type { StandingsView, WhatCounts } from "@tourney/core/contract";
import { isEverything, writeCounts } from "@tourney/core/what-counts";
import { type SyntheticEvent, useState } from "react";
import { toast } from "sonner";
import { EditionLink } from "../../../api/edition-links.js";
import { toApiError } from "../../../api/tourney-api.js";
import { Button, Field } from "../../../ui/controls.js";
import { PopoverMenu } from "../../../ui/PopoverMenu.js";
import { Snapshots } from "../Snapshots.js";
import { useKeepViewMutation, useListViewsQuery, useRemoveViewMutation } from "../standings-api.js";

const addressOf = (counts: WhatCounts) => `/standings?${new URLSearchParams(writeCounts(counts)).toString()}`;
const keyOf = (counts: WhatCounts) => JSON.stringify(writeCounts(counts));

/** Choices of what counts that have a name and a name for the one that is looked at; standings as they were. */
export function Views({
  editionId,
  counts,
  hasBallots,
}: {
  editionId: string;
  counts: WhatCounts;
  hasBallots: boolean;
}) {
  const { data: views = [] } = useListViewsQuery(editionId);
  const shown = views.find((view) => keyOf(view.counts) === keyOf(counts));
  return (
    <>
      <PopoverMenu
        name="Kept views and snapshots"
        label={shown?.name ?? "Kept"}
        isChosen={shown !== undefined}
        align="end"
        className="w-96"
      >
        {views.length > 0 ? (
          <section aria-labelledby="kept-views" className="grid gap-1">
            <h2 id="kept-views" className="m-0 text-[15px] leading-5">
              Views
            </h2>
            <ul className="m-0 grid list-none gap-1 p-0">
              {views.map((view) => (
                <ViewLine key={view.id} {...{ editionId, view }} />
              ))}
            </ul>
          </section>
        ) : null}
        {hasBallots ? <Snapshots {...{ editionId, counts }} /> : null}
      </PopoverMenu>
      {shown === undefined && !isEverything(counts) ? <KeepView {...{ editionId, counts }} /> : null}
    </>
  );
}

function ViewLine({ editionId, view }: { editionId: string; view: StandingsView }) {
  const [remove] = useRemoveViewMutation();
  const [keep] = useKeepViewMutation();
  const { name, counts } = view;
  const removeIt = async () => {
    const { error } = await remove(view.id);
    if (error !== undefined) {
      toast.error(toApiError(error).detail);
      return;
    }
    toast(`“${name}” is no longer kept.`, {
      action: { label: "Undo", onClick: () => void keep({ editionId, name, counts }) },
    });
  };
  return (
    <li className="flex items-center gap-2">
      <EditionLink className="min-w-0 flex-1 truncate" to={addressOf(counts)}>
        {name}
      </EditionLink>
      <Button compact tone="quiet" aria-label={`Remove ${name}`} onClick={() => void removeIt()}>
        Remove
      </Button>
    </li>
  );
}

function KeepView({ editionId, counts }: { editionId: string; counts: WhatCounts }) {
  const [keep, { error, isLoading }] = useKeepViewMutation();
  const [name, setName] = useState("");
  const submit = async (event: SyntheticEvent) => {
    event.preventDefault();
    const { data } = await keep({ editionId, name, counts });
    if (data !== undefined) toast(`Kept as “${data.name}”.`);
  };
  return (
    <PopoverMenu name="Keep this view" label="Keep this view" align="end">
      <form className="grid gap-2" onSubmit={(event) => void submit(event)}>
        <Field
          label="Name"
          value={name}
          maxLength={60}
          required
          onChange={({ target }) => setName(target.value)}
          hint="It can be used with every edition of the suite."
          error={error === undefined ? undefined : toApiError(error).detail}
        />
        <Button tone="primary" type="submit" disabled={isLoading || name.trim() === ""}>
          Keep
        </Button>
      </form>
    </PopoverMenu>
  );
}
