import { useState } from "react";
import { useParams } from "react-router";
import { Button, Field } from "../../ui/controls.js";
import { EmptyNotice, ErrorNotice, Loading } from "../../ui/notices.js";
import { BoutView } from "./BoutView.js";
import { useGetBoothQuery, useGetBoutsQuery, useJoinPanelMutation, useTakeBackBallotMutation } from "./booth-api.js";

/** The booth: a screen of its own for voters. Nothing on it can tell who made what. */
export function BoothScreen() {
  const { panelToken = "" } = useParams();
  const { currentData: state, error, refetch } = useGetBoothQuery(panelToken);
  return (
    <div className="min-h-screen bg-booth">
      {state === undefined ? (
        error ? (
          <main className="mx-auto max-w-xl p-8">
            <ErrorNotice error={error} onRetry={() => void refetch()} />
          </main>
        ) : (
          <Loading what="the booth" />
        )
      ) : state.known ? (
        <Bouts panelToken={panelToken} />
      ) : (
        <Welcome
          panelToken={panelToken}
          title={state.panelTitle}
          message={state.message}
          quota={state.quota}
          isSample={state.sample}
        />
      )}
    </div>
  );
}

function Welcome({
  panelToken,
  title,
  message,
  quota,
  isSample,
}: {
  panelToken: string;
  title: string;
  message: string;
  quota: number;
  isSample: boolean;
}) {
  const [name, setName] = useState("");
  const [join, { isLoading, error }] = useJoinPanelMutation();
  return (
    <main className="mx-auto max-w-[560px] px-6 pt-[14vh]">
      <p className="m-0 text-soft">
        {title}
        {isSample ? <span className="text-care-ink"> · sample data</span> : null}
      </p>
      <h1 className="m-0 mt-1 text-[32px] leading-9">{message || "Which of the two is better?"}</h1>
      <p className="mt-4 text-[16px] leading-6">
        You will see two pages side by side that were built for the same task. Play with both, then lean to the one you
        would rather have. There are {quota} such pairs; stop whenever you like and come back with the same link.
      </p>
      <form
        className="mt-6 grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          void join({ panelToken, name });
        }}
      >
        {error ? <ErrorNotice error={error} /> : null}
        <Field
          label="Your name, if you like"
          maxLength={60}
          value={name}
          autoComplete="name"
          onChange={(event) => setName(event.target.value)}
        />
        <div>
          <Button tone="primary" type="submit" disabled={isLoading}>
            Begin
          </Button>
        </div>
      </form>
    </main>
  );
}

function Bouts({ panelToken }: { panelToken: string }) {
  const {
    currentData: queue,
    error,
    isFetching,
    refetch,
  } = useGetBoutsQuery(panelToken, { refetchOnMountOrArgChange: true });
  const [takeBack] = useTakeBackBallotMutation();
  if (queue === undefined) {
    return error ? (
      <main className="mx-auto max-w-xl p-8">
        <ErrorNotice error={error} onRetry={() => void refetch()} />
      </main>
    ) : (
      <Loading what="your bouts" />
    );
  }
  const bout = queue.bouts[0];
  if (bout)
    return (
      <BoutView
        key={bout.token}
        bout={bout}
        done={queue.done}
        quota={queue.quota}
        canTakeBack={queue.canTakeBack}
        panelToken={panelToken}
        isRefreshing={isFetching}
      />
    );
  return (
    <EmptyNotice
      title={queue.done > 0 ? "Thank you" : "Nothing to vote on yet"}
      action={
        queue.canTakeBack ? (
          <Button onClick={() => void takeBack(panelToken)}>Take back the last ballot</Button>
        ) : (
          <Button onClick={() => void refetch()}>Look again</Button>
        )
      }
    >
      {queue.done >= queue.quota
        ? `All ${queue.quota} are done. You can close this page.`
        : queue.done > 0
          ? `You have seen every pair there is: ${queue.done} ballots. You can close this page.`
          : "The outputs are still being made. Come back in a while."}
    </EmptyNotice>
  );
}
