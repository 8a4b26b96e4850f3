import { lazy, Suspense } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { useLenses } from "../shared/lens";
import { Trouble, Waiting } from "../shared/states";
import { useSession } from "../shared/useSession";
import { Frame } from "./Frame";
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
const PeopleView = () => <StaffView key="people" section="people" />;
const MachinesView = () => <StaffView key="machines" section="machines" />;

export function App() {
  const session = useSession();
  const { search } = useLocation();
  if (session.isPending) return <Waiting what="Amber Key" />;
  if (session.isError) return <Trouble error={session.error} again={() => session.refetch()} />;
  if (!session.data.me) return <SignIn />;
  return (
    <Routes>
      <Route element={<Frame />}>
        <Route index element={<Navigate to={{ pathname: "/clashes", search }} replace />} />
        <Route path="standard" element={<Through of={StandardView} />} />
        <Route path="clashes" element={<Through of={ClashesView} />} />
        <Route path="try" element={<Through of={TryView} />} />
        <Route path="programs" element={<Through of={ProgramsView} />} />
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

/** A screen that looks through a lens: there has to be one. */
function Through({ of }: { of: React.ComponentType }) {
  const lenses = useLenses();
  return lenses.data?.length === 0 ? <NoSetups /> : <Screen of={of} />;
}

function Screen({ of: View }: { of: React.ComponentType }) {
  return (
    <Suspense fallback={<Waiting what="the screen" />}>
      <View />
    </Suspense>
  );
}
