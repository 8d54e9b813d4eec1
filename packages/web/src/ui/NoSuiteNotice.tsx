import type { ReactNode } from "react";
import { EditionLink } from "../api/edition-links.js";
import { FIRST_STEPS } from "../lib/first-steps.js";
import { EmptyScreen } from "./notices.js";

/**
 * An empty screen before there is a suite: what belongs here, the step to take first, and the four screens that follow.
 * @param importAction the button that imports, on the screen that has one; elsewhere a link leads there.
 */
export function NoSuiteNotice({
  title,
  children,
  importAction,
}: {
  title: string;
  children: ReactNode;
  importAction?: ReactNode;
}) {
  return (
    <EmptyScreen
      title={title}
      action={importAction ?? <EditionLink to="/suite">Import a suite</EditionLink>}
      below={<WhatFollows />}
    >
      {children}
    </EmptyScreen>
  );
}

const WhatFollows = () => (
  <section aria-labelledby="what-follows" className="mx-auto mt-8 mb-16 max-w-xl px-6">
    <h2 id="what-follows" className="m-0 border-b border-rule pb-1 font-sans text-[13px] font-medium text-soft">
      What follows
    </h2>
    <ol className="m-0 list-none p-0">
      {FIRST_STEPS.map(({ place, path, text }) => (
        <li key={place} className="grid grid-cols-[96px_1fr] border-b border-rule py-2.5">
          <EditionLink to={path}>{place}</EditionLink>
          <span className="text-soft">{text}</span>
        </li>
      ))}
    </ol>
  </section>
);
