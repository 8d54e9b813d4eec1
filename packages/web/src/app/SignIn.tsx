import { useEffect } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { EmptyScreen, ErrorNotice, Loading } from "../ui/notices.js";
import { useSignInMutation } from "../features/course/course-api.js";
import { wantFirstLook } from "../features/course/FirstLook.js";

/** The page behind a one-time link: spends it, then goes on to the work. */
export function SignIn() {
  const { token = "" } = useParams();
  const navigate = useNavigate();
  const wantsFirstLook = useSearchParams()[0].has("first-look");
  const [signIn, { error }] = useSignInMutation();
  useEffect(() => {
    if (wantsFirstLook) wantFirstLook();
    void signIn(token)
      .unwrap()
      .then(
        () => void navigate("/", { replace: true }),
        () => undefined,
      );
  }, [token, wantsFirstLook, signIn, navigate]);
  return (
    <main className="mx-auto max-w-xl p-8">
      {error ? <ErrorNotice error={error} /> : <Loading what="your session" />}
    </main>
  );
}

/** What somebody sees who is not signed in. */
export function SignedOut() {
  return (
    <EmptyScreen title="Sign in as the lead">
      Tourney prints a one-time sign-in link when it starts. Open that link in this browser, or make a new one with{" "}
      <code className="font-mono">./tourney sign-in</code>. Voters need no account: they use the link they were given.
    </EmptyScreen>
  );
}
