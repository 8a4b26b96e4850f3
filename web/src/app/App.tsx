import { lazy, Suspense } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { Frame } from "./Frame";
import { useLenses } from "./lens";
import { NoSetups } from "./NoSetups";
import { SignIn } from "./SignIn";
import { Trouble, Waiting } from "./states";
import { useSession } from "./useSession";

const ClashesView = lazy(() => import("../clashes/ClashesView").then((m) => ({ default: m.ClashesView })));
const StandardView = lazy(() => import("../standard/StandardView").then((m) => ({ default: m.StandardView })));
const TryView = lazy(() => import("../trying/TryView").then((m) => ({ default: m.TryView })));
const ProgramsView = lazy(() => import("../programs/ProgramsView").then((m) => ({ default: m.ProgramsView })));
const ProfilesView = lazy(() => import("../profiles/ProfilesView").then((m) => ({ default: m.ProfilesView })));
const BehaviourView = lazy(() =>
  import("../programs/behaviour/BehaviourView").then((m) => ({ default: m.BehaviourView })),
);
const MachinesScreen = lazy(() => import("../machines/MachinesScreen").then((m) => ({ default: m.MachinesScreen })));
const StaffView = lazy(() => import("../machines/table/StaffView").then((m) => ({ default: m.StaffView })));
const StructureView = lazy(() =>
  import("../machines/structure/StructureView").then((m) => ({ default: m.StructureView })),
);
const SetupsView = lazy(() => import("../machines/setups/SetupsView").then((m) => ({ default: m.SetupsView })));
const AgentsView = lazy(() => import("../machines/agents/AgentsView").then((m) => ({ default: m.AgentsView })));
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
        <Route path="programs/behaviour" element={<Through of={BehaviourView} />} />
        <Route path="machines" element={<Screen of={MachinesScreen} />}>
          <Route index element={<Navigate to={{ pathname: "people", search }} replace />} />
          <Route path="people" element={<Screen of={PeopleView} />} />
          <Route path="machines" element={<Screen of={MachinesView} />} />
          <Route path="departments" element={<Screen of={StructureView} />} />
          <Route path="setups" element={<Screen of={SetupsView} />} />
          <Route path="agents" element={<Screen of={AgentsView} />} />
        </Route>
        <Route path="*" element={<Navigate to={{ pathname: "/clashes", search }} replace />} />
      </Route>
    </Routes>
  );
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
