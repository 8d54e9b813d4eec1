import type { BallotScope, WhatCounts } from "@tourney/core/contract";
import { readCounts } from "@tourney/core/what-counts";
import type { ReactNode } from "react";
import { useSearchParams } from "react-router";
import { ballotsPath } from "../../api/ballots-path.js";
import { EditionLink } from "../../api/edition-links.js";

/** Leads from a figure of the standings to the ballots that it is made of, by what is chosen to count; for a part of the standings, with what is chosen there. */
export function BallotsLink({
  of = {},
  part = {},
  title,
  children,
}: {
  of?: Omit<BallotScope, "counting">;
  part?: Partial<WhatCounts>;
  title?: string;
  children: ReactNode;
}) {
  const [search] = useSearchParams();
  return (
    <EditionLink to={ballotsPath(of, { ...readCounts(search), ...part })} {...(title === undefined ? {} : { title })}>
      {children}
    </EditionLink>
  );
}
