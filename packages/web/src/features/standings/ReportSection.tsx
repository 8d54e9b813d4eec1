import type { ReportLink, WhatCounts } from "@tourney/core/contract";
import { writeCounts } from "@tourney/core/what-counts";
import { toast } from "sonner";
import { toApiError } from "../../api/tourney-api.js";
import { copyText } from "../../lib/copy-text.js";
import { formatAgo, formatExact } from "../../lib/format.js";
import { useNow } from "../../lib/use-now.js";
import { Button } from "../../ui/controls.js";
import { useAddReportLinkMutation, useListReportLinksQuery, useSetReportLinkMutation } from "./standings-api.js";

const REFRESH_MS = 30_000;

const copy = (url: string): void => copyText(url, "The link");

/** The report as a file, and links by which others read it. */
export function ReportSection({ editionId, counts }: { editionId: string; counts: WhatCounts }) {
  const { data: links = [] } = useListReportLinksQuery(editionId);
  const [add, { isLoading }] = useAddReportLinkMutation();
  const query = new URLSearchParams(writeCounts(counts)).toString();
  const share = async () => {
    const { data, error } = await add({ editionId, counts });
    if (data === undefined) toast.error(toApiError(error).detail);
    else copy(data.url);
  };
  const open = links.filter(({ withdrawnAt }) => withdrawnAt === null);
  return (
    <section aria-labelledby="export-report" className="grid gap-2">
      <h2 id="export-report" className="m-0 text-[15px] leading-5">
        Report
      </h2>
      <p className="m-0 text-soft">
        The answer in three sentences, the standings, what it costs, best and worst pages, doubts and method, in one
        page that opens anywhere and prints.
      </p>
      <span className="flex gap-2">
        <a
          className="inline-flex h-6 items-center rounded border border-rule bg-ground px-2.5 text-ink no-underline hover:border-ink"
          download
          href={`/api/editions/${editionId}/report.html${query === "" ? "" : `?${query}`}`}
        >
          HTML file
        </a>
        <Button compact disabled={isLoading} onClick={() => void share()}>
          Link for readers
        </Button>
      </span>
      {open.length > 0 ? (
        <ul aria-label="Links for readers" className="m-0 grid list-none gap-1 p-0">
          {open.map((link) => (
            <LinkLine key={link.id} link={link} />
          ))}
        </ul>
      ) : null}
    </section>
  );
}

function LinkLine({ link }: { link: ReportLink }) {
  const nowMs = useNow(REFRESH_MS);
  const [set] = useSetReportLinkMutation();
  const withdraw = async () => {
    const { error } = await set({ linkId: link.id, withdrawn: true });
    if (error !== undefined) {
      toast.error(toApiError(error).detail);
      return;
    }
    toast("The link opens nothing any more.", {
      action: { label: "Undo", onClick: () => void set({ linkId: link.id, withdrawn: false }) },
    });
  };
  return (
    <li className="flex items-center gap-1">
      <a className="min-w-0 flex-1 truncate" href={link.url} title={formatExact(link.createdAt)}>
        made {formatAgo(link.createdAt, nowMs)}
      </a>
      <Button compact tone="quiet" onClick={() => copy(link.url)}>
        Copy
      </Button>
      <Button compact tone="quiet" onClick={() => void withdraw()}>
        Withdraw
      </Button>
    </li>
  );
}
