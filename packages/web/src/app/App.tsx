import { lazy, Suspense } from "react";
import { Provider } from "react-redux";
import { createBrowserRouter, Navigate, Outlet, useRouteError } from "react-router";
import { RouterProvider } from "react-router/dom";
import { Toaster } from "sonner";
import { useEditionInAddress, withEdition } from "../api/edition-links.js";
import { useAddressedEdition } from "../api/use-edition.js";
import { CourseBar } from "../features/course/CourseBar.js";
import { FirstLook } from "../features/course/FirstLook.js";
import { HealthBar } from "../features/course/HealthBar.js";
import { useGetCourseQuery, useGetSessionQuery } from "../features/course/course-api.js";
import { News } from "../features/news/News.js";
import { Palette } from "../features/palette/Palette.js";
import { Button } from "../ui/controls.js";
import { EmptyScreen, ErrorNotice, Loading } from "../ui/notices.js";
import { SignedOut, SignIn } from "./SignIn.js";
import type { createStore } from "./store.js";

const SuiteScreen = lazy(() => import("../features/suite/SuiteScreen.js").then((m) => ({ default: m.SuiteScreen })));
const SuiteEditor = lazy(() => import("../features/suite/SuiteEditor.js").then((m) => ({ default: m.SuiteEditor })));
const EntrantsScreen = lazy(() =>
  import("../features/entrants/EntrantsScreen.js").then((m) => ({ default: m.EntrantsScreen })),
);
const RunsScreen = lazy(() => import("../features/runs/RunsScreen.js").then((m) => ({ default: m.RunsScreen })));
const WallScreen = lazy(() => import("../features/wall/WallScreen.js").then((m) => ({ default: m.WallScreen })));
const EntryScreen = lazy(() => import("../features/entry/EntryScreen.js").then((m) => ({ default: m.EntryScreen })));
const CompareScreen = lazy(() =>
  import("../features/compare/CompareScreen.js").then((m) => ({ default: m.CompareScreen })),
);
const JudgeScreen = lazy(() => import("../features/entry/Judging.js").then((m) => ({ default: m.JudgeScreen })));
const VotingScreen = lazy(() =>
  import("../features/voting/VotingScreen.js").then((m) => ({ default: m.VotingScreen })),
);
const BoothScreen = lazy(() => import("../features/booth/BoothScreen.js").then((m) => ({ default: m.BoothScreen })));
const StandingsScreen = lazy(() =>
  import("../features/standings/StandingsScreen.js").then((m) => ({ default: m.StandingsScreen })),
);

/** The lead's screens: the course on top, or the way to sign in. */
function LeadShell() {
  const { data: session, error, refetch } = useGetSessionQuery();
  if (session === undefined)
    return error ? <ErrorNotice error={error} onRetry={() => void refetch()} /> : <Loading what="Tourney" />;
  if (!session.signedIn) return <SignedOut />;
  return <Screens />;
}

function Screens() {
  useAddressedEdition();
  return (
    <div className="flex h-screen flex-col">
      <CourseBar />
      <HealthBar />
      <div className="min-h-0 flex-1 scroll-pt-4 overflow-auto">
        <Suspense fallback={<Loading what="the screen" />}>
          <Outlet />
        </Suspense>
      </div>
      <FirstLook />
      <Palette />
      <News />
    </div>
  );
}

/** The start page is the step that needs the lead next. */
function NextStep() {
  const editionId = useEditionInAddress();
  const { data: course, error } = useGetCourseQuery(editionId ?? undefined);
  if (course === undefined) return error ? <ErrorNotice error={error} /> : <Loading what="the state of the job" />;
  return <Navigate to={withEdition(`/${course.next}`, editionId)} replace />;
}

function Broken() {
  const error = useRouteError();
  return (
    <EmptyScreen title="This page broke" action={<Button onClick={() => window.location.reload()}>Reload</Button>}>
      {error instanceof Error ? error.message : "It could not be shown."} What you entered elsewhere is kept.
    </EmptyScreen>
  );
}

function NoSuchPage() {
  return (
    <EmptyScreen title="There is no such page">
      The address may have lost a part. The steps of the job are in the bar at the top.
    </EmptyScreen>
  );
}

const router = createBrowserRouter([
  { path: "/sign-in/:token", element: <SignIn />, errorElement: <Broken /> },
  {
    path: "/vote/:panelToken",
    errorElement: <Broken />,
    element: (
      <Suspense fallback={<Loading what="the booth" />}>
        <BoothScreen />
      </Suspense>
    ),
  },
  {
    path: "/",
    element: <LeadShell />,
    errorElement: <Broken />,
    children: [
      { index: true, element: <NextStep /> },
      { path: "suite", element: <SuiteScreen /> },
      { path: "suite/edit/:suiteKey", element: <SuiteEditor /> },
      { path: "entrants", element: <EntrantsScreen /> },
      { path: "runs", element: <RunsScreen /> },
      { path: "runs/:runId", element: <RunsScreen /> },
      { path: "wall", element: <WallScreen /> },
      { path: "entries/:entryId", element: <EntryScreen /> },
      { path: "compare", element: <CompareScreen /> },
      { path: "judge", element: <JudgeScreen /> },
      { path: "voting", element: <VotingScreen /> },
      { path: "standings", element: <StandingsScreen /> },
      { path: "*", element: <NoSuchPage /> },
    ],
  },
]);

/** What floats has the colours of a sheet, in either theme. */
const TOAST = {
  style: {
    borderRadius: 2,
    fontFamily: "inherit",
    background: "var(--sheet)",
    color: "var(--ink)",
    borderColor: "var(--rule)",
  },
  actionButtonStyle: { background: "var(--ink)", color: "var(--ground)" },
};

export function App({ store }: { store: ReturnType<typeof createStore> }) {
  return (
    <Provider store={store}>
      <RouterProvider router={router} />
      <Toaster position="bottom-right" toastOptions={TOAST} />
    </Provider>
  );
}
