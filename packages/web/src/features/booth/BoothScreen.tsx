import type { BoothState } from "@tourney/core/contract";
import { useEffect, useRef, useState } from "react";
import { useLocation, useNavigate, useParams } from "react-router";
import { Button, Field } from "../../ui/controls.js";
import { EmptyScreen, ErrorNotice, Loading } from "../../ui/notices.js";
import { useGetBoothQuery, useGetBoutsQuery, useJoinPanelMutation, useResumeVotingMutation } from "./booth-api.js";
import { BoutView } from "./BoutView.js";
import { Introduction } from "./Introduction.js";
import { OwnLink } from "./OwnLink.js";
import { type Casting, useCasting } from "./use-casting.js";

/** The booth: a screen of its own for voters. Nothing on it can tell who made what. */
export function BoothScreen() {
  const { panelToken = "" } = useParams();
  const resuming = usePersonalLink(panelToken);
  const { currentData: state, error, refetch } = useGetBoothQuery(panelToken, { skip: resuming.isLoading });
  return (
    <div className="relative min-h-screen bg-booth">
      {resuming.error ? (
        <main className="mx-auto max-w-xl p-8">
          <ErrorNotice error={resuming.error} />
        </main>
      ) : state === undefined || resuming.isLoading ? (
        error ? (
          <main className="mx-auto max-w-xl p-8">
            <ErrorNotice error={error} onRetry={() => void refetch()} />
          </main>
        ) : (
          <Loading what="the booth" />
        )
      ) : state.known ? (
        <Bouts panelToken={panelToken} state={state} />
      ) : (
        <Welcome panelToken={panelToken} state={state} />
      )}
    </div>
  );
}

/** A personal link carries the voter's token behind the `#`, where no log sees it; it is taken out of the address at once. */
function usePersonalLink(panelToken: string) {
  const { hash } = useLocation();
  const navigate = useNavigate();
  const [resume, { isLoading, error, isUninitialized }] = useResumeVotingMutation();
  const voterToken = useRef(hash.slice(1));
  useEffect(() => {
    if (voterToken.current === "") return;
    void resume({ panelToken, voterToken: voterToken.current });
    voterToken.current = "";
    void navigate({ hash: "" }, { replace: true });
  }, [panelToken, resume, navigate]);
  return { isLoading: isLoading || (hash.length > 1 && isUninitialized), error };
}

function Welcome({ panelToken, state }: { panelToken: string; state: BoothState }) {
  const [name, setName] = useState("");
  const [join, { isLoading, error }] = useJoinPanelMutation();
  if (state.closed) {
    return (
      <EmptyScreen title="The voting is closed">
        {state.panelTitle} took its last ballot some time ago. There is nothing left to do here.
      </EmptyScreen>
    );
  }
  return (
    <main className="mx-auto max-w-[560px] px-6 pt-[14vh]">
      <p className="m-0 text-soft">
        {state.panelTitle}
        {state.sample ? <span className="text-care-ink"> · sample data</span> : null}
      </p>
      <h1 className="m-0 mt-1 text-[32px] leading-9">{state.message || "Which of the two is better?"}</h1>
      <p className="mt-4 text-[16px] leading-6">
        You will see two pages side by side that were built for the same task. Play with both, then lean to the one you
        would rather have. There are {state.quota} such pairs; stop whenever you like and come back with the same link.
      </p>
      {state.isLead ? (
        <p role="note" className="m-0 border-l-3 border-care bg-sheet px-4 py-2">
          You are signed in as the lead here. For outputs that you have seen with their names this vote is not blind; it
          is marked as yours and can be left out of the ratings on Voting.
        </p>
      ) : null}
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

const INTRODUCED = "tourney-booth-introduced";

function Bouts({ panelToken, state }: { panelToken: string; state: BoothState }) {
  const { currentData: queue, error, refetch } = useGetBoutsQuery(panelToken, { refetchOnMountOrArgChange: true });
  const casting = useCasting(panelToken);
  const [isIntroduced, setIsIntroduced] = useState(
    () => state.done > 0 || window.localStorage.getItem(INTRODUCED) !== null,
  );
  if (!isIntroduced && !state.closed) {
    const done = () => {
      window.localStorage.setItem(INTRODUCED, "yes");
      setIsIntroduced(true);
    };
    return <Introduction onDone={done} />;
  }
  if (queue === undefined) {
    return error ? (
      <main className="mx-auto max-w-xl p-8">
        <ErrorNotice error={error} onRetry={() => void refetch()} />
      </main>
    ) : (
      <Loading what="your bouts" />
    );
  }
  const { bouts, ...progress } = queue;
  if (bouts.length === 0) return <NoBout {...progress} {...{ state, casting }} onLookAgain={() => void refetch()} />;
  return bouts.map((bout, index) => (
    <BoutView
      key={bout.token}
      bout={bout}
      isCurrent={index === 0}
      casting={casting}
      asksReasons={state.asksReasons}
      ownUrl={state.ownUrl}
      panelToken={panelToken}
      done={progress.done}
      quota={progress.quota}
      canTakeBack={progress.canTakeBack}
    />
  ));
}

interface NoBoutProps {
  casting: Casting;
  state: BoothState;
  done: number;
  quota: number;
  canTakeBack: boolean;
  onLookAgain: () => void;
}

/** The end, or nothing to show yet. */
function NoBout({ casting, state, done, quota, canTakeBack, onLookAgain }: NoBoutProps) {
  const text = state.closed
    ? `The voting is closed. You cast ${done} of ${quota} ballots, and they count.`
    : done >= quota
      ? `All ${quota} are done. You can close this page.`
      : done > 0
        ? `You have seen every pair there is: ${done} ballots. You can close this page.`
        : "The outputs are still being made. Come back in a while.";
  return (
    <EmptyScreen
      title={done > 0 ? "Thank you" : state.closed ? "Too late" : "Nothing to vote on yet"}
      action={
        <div className="grid justify-items-start gap-3">
          {casting.takeBackError ? <ErrorNotice error={casting.takeBackError} /> : null}
          {canTakeBack ? (
            <Button disabled={casting.isTakingBack} onClick={casting.takeBack}>
              Take back the last ballot
            </Button>
          ) : state.closed ? null : (
            <Button onClick={onLookAgain}>Look again</Button>
          )}
          {state.ownUrl === null || state.closed || done >= quota ? null : <OwnLink url={state.ownUrl} />}
        </div>
      }
    >
      {text}
    </EmptyScreen>
  );
}
