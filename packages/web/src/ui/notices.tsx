import type { ReactNode } from "react";
import { toApiError } from "../api/tourney-api.js";
import { Button } from "./controls.js";

/** What happened, why, and what to do. */
export function ErrorNotice({ error, onRetry }: { error: unknown; onRetry?: () => void }) {
  const { detail, remedy, issues, requestId } = toApiError(error);
  return (
    <div role="alert" className="my-3 border-l-3 border-broken bg-sheet px-4 py-3">
      <p className="m-0 font-semibold">{detail}</p>
      {issues.length > 1 ? (
        <ul className="my-1 list-disc pl-5">
          {issues.slice(0, 12).map(({ path, message }) => (
            <li key={`${path}${message}`}>
              <span className="font-mono text-[12px]">{path}</span> {message}
            </li>
          ))}
        </ul>
      ) : null}
      <p className="m-0 text-soft">{remedy}</p>
      {onRetry ? (
        <Button className="mt-2" onClick={onRetry}>
          Try again
        </Button>
      ) : null}
      {requestId ? <p className="m-0 mt-1 font-mono text-[11px] text-soft">request {requestId}</p> : null}
    </div>
  );
}

interface EmptyProps {
  title: string;
  children: ReactNode;
  action?: ReactNode;
}

/** What belongs in a part of a screen that has other parts, and the one next step. */
export const EmptyNotice = (props: EmptyProps) => <Empty {...props} heading="h2" />;

/** A screen with nothing on it yet: what belongs there, the one next step, and what else there is to say below. */
export const EmptyScreen = ({ below, ...props }: EmptyProps & { below?: ReactNode }) => (
  <main>
    <Empty {...props} heading="h1" />
    {below}
  </main>
);

function Empty({ title, children, action, heading: Heading }: EmptyProps & { heading: "h1" | "h2" }) {
  return (
    <section className="mx-auto mt-16 max-w-xl px-6">
      <Heading className="m-0 text-[22px] leading-7">{title}</Heading>
      <p className="mt-2 mb-4 text-soft">{children}</p>
      {action}
    </section>
  );
}

export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="breathing-words m-0 px-4 py-6 text-soft">
      Loading {what} …
    </p>
  );
}
