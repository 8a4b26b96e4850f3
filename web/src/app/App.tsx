import { lazy, Suspense } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { Frame } from "./Frame";
import { SignIn } from "./SignIn";
import { Trouble, Waiting } from "./states";
import { useSession } from "./useSession";

const ClashesView = lazy(() => import("../clashes/ClashesView").then((m) => ({ default: m.ClashesView })));
const ProgramsView = lazy(() => import("../programs/ProgramsView").then((m) => ({ default: m.ProgramsView })));
const ProfilesView = lazy(() => import("../profiles/ProfilesView").then((m) => ({ default: m.ProfilesView })));
const MachinesView = lazy(() => import("../machines/MachinesView").then((m) => ({ default: m.MachinesView })));

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
        <Route path="clashes" element={<Screen of={ClashesView} />} />
        <Route path="programs" element={<Screen of={ProgramsView} />} />
        <Route path="profiles" element={<Screen of={ProfilesView} />} />
        <Route path="machines" element={<Screen of={MachinesView} />} />
        <Route path="*" element={<Navigate to={{ pathname: "/clashes", search }} replace />} />
      </Route>
    </Routes>
  );
}

function Screen({ of: View }: { of: React.ComponentType }) {
  return (
    <Suspense fallback={<Waiting what="the screen" />}>
      <View />
    </Suspense>
  );
}
