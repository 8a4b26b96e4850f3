import { lazy, Suspense } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { useLenses } from "../shared/lens";
import { Trouble, Waiting } from "../shared/states";
import { useSession } from "../shared/useSession";
import { useBeginnings } from "../standard/useBeginnings";
import { Frame } from "./Frame";
import { LinkPage } from "./LinkPage";
import { NoSetups } from "./NoSetups";
import { SignIn } from "./SignIn";

const ClashesView = lazy(() => import("../clashes/ClashesView").then((m) => ({ default: m.ClashesView })));
const StandardView = lazy(() => import("../standard/StandardView").then((m) => ({ default: m.StandardView })));
const TryView = lazy(() => import("../trying/TryView").then((m) => ({ default: m.TryView })));
const ProgramsView = lazy(() => import("../programs/ProgramsView").then((m) => ({ default: m.ProgramsView })));
const LineView = lazy(() => import("../comparing/LineView").then((m) => ({ default: m.LineView })));
const CompareView = lazy(() => import("../comparing/CompareView").then((m) => ({ default: m.CompareView })));
const ProfilesView = lazy(() => import("../profiles/ProfilesView").then((m) => ({ default: m.ProfilesView })));
const BehaviourView = lazy(() =>
  import("../programs/behaviour/BehaviourView").then((m) => ({ default: m.BehaviourView })),
);
const OrganisationScreen = lazy(() =>
  import("../organisation/OrganisationScreen").then((m) => ({ default: m.OrganisationScreen })),
);
const StaffView = lazy(() => import("../organisation/table/StaffView").then((m) => ({ default: m.StaffView })));
const StructureView = lazy(() =>
  import("../organisation/structure/StructureView").then((m) => ({ default: m.StructureView })),
);
const SetupsView = lazy(() => import("../organisation/setups/SetupsView").then((m) => ({ default: m.SetupsView })));
const AgentsView = lazy(() => import("../fleet/AgentsView").then((m) => ({ default: m.AgentsView })));
const TodayView = lazy(() => import("../beginning/TodayView").then((m) => ({ default: m.TodayView })));
const Landing = lazy(() => import("../beginning/TodayView").then((m) => ({ default: m.Landing })));
const AccountView = lazy(() => import("../account/AccountView").then((m) => ({ default: m.AccountView })));
const CatalogueView = lazy(() =>
  import("../programs/making/CatalogueView").then((m) => ({ default: m.CatalogueView })),
);
const ProgramEditor = lazy(() =>
  import("../programs/making/ProgramEditor").then((m) => ({ default: m.ProgramEditor })),
);
const TasksView = lazy(() => import("../tasks/TasksView").then((m) => ({ default: m.TasksView })));
const BeginStandard = lazy(() => import("../standard/BeginStandard").then((m) => ({ default: m.BeginStandard })));
const PeopleView = () => <StaffView key="people" section="people" />;
const MachinesView = () => <StaffView key="machines" section="machines" />;

export function App() {
  const session = useSession();
  const { pathname, search } = useLocation();
  if (pathname === "/link") return <LinkPage />;
  if (session.isPending) return <Waiting what="Amber Key" />;
  if (session.isError) return <Trouble error={session.error} again={() => session.refetch()} />;
  if (!session.data.me) return <SignIn />;
  return (
    <Routes>
      <Route element={<Frame />}>
        <Route index element={<Screen of={Landing} />} />
        <Route path="today" element={<Screen of={TodayView} />} />
        <Route path="account" element={<Screen of={AccountView} />} />
        <Route path="standard" element={<Standard />} />
        <Route path="standard/tasks" element={<Screen of={TasksView} />} />
        <Route path="clashes" element={<Through of={ClashesView} />} />
        <Route path="try" element={<Through of={TryView} />} />
        <Route path="programs" element={<Through of={ProgramsView} without={CatalogueView} />} />
        <Route path="programs/all" element={<Screen of={CatalogueView} />} />
        <Route path="programs/edit" element={<Screen of={ProgramEditor} />} />
        <Route path="profiles" element={<Screen of={ProfilesView} />} />
        <Route path="profiles/history" element={<Screen of={LineView} />} />
        <Route path="profiles/compare" element={<Screen of={CompareView} />} />
        <Route path="programs/behaviour" element={<Through of={BehaviourView} />} />
        <Route path="organisation" element={<Screen of={OrganisationScreen} />}>
          <Route index element={<Navigate to={{ pathname: "people", search }} replace />} />
          <Route path="people" element={<Screen of={PeopleView} />} />
          <Route path="machines" element={<Screen of={MachinesView} />} />
          <Route path="departments" element={<Screen of={StructureView} />} />
          <Route path="setups" element={<Screen of={SetupsView} />} />
        </Route>
        <Route path="machines" element={<Screen of={AgentsView} />} />
        <Route path="machines/*" element={<Moved />} />
        <Route path="*" element={<Navigate to={{ pathname: "/clashes", search }} replace />} />
      </Route>
    </Routes>
  );
}

/** Links to the organisation from when it stood below the machines. */
function Moved() {
  const { pathname, search } = useLocation();
  const part = pathname.split("/")[2] ?? "people";
  return <Navigate to={{ pathname: part === "agents" ? "/machines" : `/organisation/${part}`, search }} replace />;
}

/** A screen that looks through a lens: there has to be one, or another screen that needs none. */
function Through({ of, without }: { of: React.ComponentType; without?: React.ComponentType }) {
  const lenses = useLenses();
  if (lenses.data?.length === 0) return without ? <Screen of={without} /> : <NoSetups />;
  return <Screen of={of} />;
}

/** The standard, or the ways to begin one. */
function Standard() {
  const beginnings = useBeginnings();
  if (beginnings.isError) return <Trouble error={beginnings.error} again={() => beginnings.refetch()} />;
  if (!beginnings.data) return <Waiting what="the standard" />;
  return beginnings.data.begun ? <Through of={StandardView} /> : <Screen of={BeginStandard} />;
}

function Screen({ of: View }: { of: React.ComponentType }) {
  return (
    <Suspense fallback={<Waiting what="the screen" />}>
      <View />
    </Suspense>
  );
}
