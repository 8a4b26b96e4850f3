import { Suspense, useEffect, useState } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { useLenses } from "../shared/lens";
import { Trouble, Waiting } from "../shared/states";
import { useSession } from "../shared/useSession";
import { useBeginnings } from "../standard/useBeginnings";
import { Frame } from "./Frame";
import { LinkPage } from "./LinkPage";
import { NoSetups } from "./NoSetups";
import { SignIn } from "./SignIn";
import {
  AccountView,
  AgentsView,
  BeginStandard,
  BehaviourView,
  ByHandView,
  CardsView,
  CatalogueView,
  ClashesView,
  CommandsView,
  CompareView,
  DescribedView,
  DriftView,
  EnrolManyView,
  KeysView,
  Landing,
  LineView,
  ListView,
  loadCode,
  loadTheRest,
  MachinesView,
  MatchingView,
  NightlyView,
  OrganisationScreen,
  PeopleView,
  PlanView,
  ProfilesView,
  ProgramEditor,
  ProposeView,
  ReleasesView,
  ReleaseView,
  SetupFilesView,
  SetupsView,
  StandardView,
  StructureView,
  SurveyView,
  TasksView,
  TodayView,
  TryView,
  UpgradeView,
  WavesView,
  WorthView,
} from "./screens";

// Asked for beside who is signed in.
const firstScreen = loadCode(window.location.pathname);

export function App() {
  const session = useSession();
  const here = useFirstScreen();
  const { pathname, search } = useLocation();
  if (pathname === "/link") return <LinkPage />;
  if (session.isPending || !here) return <Waiting what="Amber Key" />;
  if (session.isError) return <Trouble error={session.error} again={() => session.refetch()} />;
  if (!session.data.me) return <SignIn />;
  return (
    <Routes>
      <Route element={<Frame />}>
        <Route index element={<Screen of={Landing} />} />
        <Route path="today" element={<Screen of={TodayView} />} />
        <Route path="account" element={<Screen of={AccountView} />} />
        <Route path="standard" element={<Standard />} />
        <Route path="standard/propose" element={<Through of={ProposeView} />} />
        <Route path="standard/tasks" element={<Screen of={TasksView} />} />
        <Route path="clashes" element={<Through of={ClashesView} />} />
        <Route path="try" element={<Through of={TryView} />} />
        <Route path="programs" element={<Through of={CommandsView} without={CatalogueView} />} />
        <Route path="programs/upgrade" element={<Screen of={UpgradeView} />} />
        <Route path="programs/all" element={<Screen of={CatalogueView} />} />
        <Route path="programs/edit" element={<Screen of={ProgramEditor} />} />
        <Route path="programs/file" element={<Screen of={DescribedView} />} />
        <Route path="programs/list" element={<Screen of={ListView} />} />
        <Route path="programs/matching" element={<Screen of={MatchingView} />} />
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
          <Route path="setups/files" element={<Screen of={SetupFilesView} />} />
          <Route path="nightly" element={<Screen of={NightlyView} />} />
          <Route path="worth" element={<Screen of={WorthView} />} />
          <Route path="keys" element={<Screen of={KeysView} />} />
        </Route>
        <Route path="cards" element={<Screen of={CardsView} />} />
        <Route path="machines" element={<Screen of={AgentsView} />} />
        <Route path="machines/by-hand" element={<Screen of={ByHandView} />} />
        <Route path="machines/people-have" element={<Screen of={SurveyView} />} />
        <Route path="machines/enrol" element={<Screen of={EnrolManyView} />} />
        <Route path="machines/releases" element={<Screen of={ReleasesView} />} />
        <Route path="machines/releases/new" element={<Screen of={PlanView} />} />
        <Route path="machines/releases/:id" element={<Screen of={ReleaseView} />} />
        <Route path="machines/releases/:id/waves" element={<Screen of={WavesView} />} />
        <Route path="machines/drift" element={<Screen of={DriftView} />} />
        <Route path="machines/*" element={<Moved />} />
        <Route path="*" element={<Navigate to={{ pathname: "/clashes", search }} replace />} />
      </Route>
    </Routes>
  );
}

/** Whether the code of the first screen is there. */
function useFirstScreen(): boolean {
  const [here, setHere] = useState(false);
  useEffect(() => {
    void firstScreen.then(() => setHere(true));
    void firstScreen.then(loadTheRest);
  }, []);
  return here;
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
