import { type ComponentType, lazy, useState } from "react";

interface Loaded {
  (): React.ReactNode;
  load: () => Promise<unknown>;
}

/** A screen whose code is loaded when it is first wanted. Code that is there already is shown at once: what React shows in place of
 * a part that loads stays for a third of a second, however soon the code comes. */
function screen<M>(load: () => Promise<M>, pick: (module: M) => ComponentType): Loaded {
  let there: ComponentType | null = null;
  const loaded = () =>
    load().then((module) => {
      there = pick(module);
      return { default: there };
    });
  const Later = lazy(loaded);
  function Screen() {
    const [View] = useState<ComponentType>(() => there ?? Later);
    return <View />;
  }
  return Object.assign(Screen, { load: loaded });
}

export const ClashesView = screen(
  () => import("../clashes/ClashesView"),
  (m) => m.ClashesView,
);
export const StandardView = screen(
  () => import("../standard/StandardView"),
  (m) => m.StandardView,
);
export const ProposeView = screen(
  () => import("../proposing/ProposeView"),
  (m) => m.ProposeView,
);
export const TryView = screen(
  () => import("../trying/TryView"),
  (m) => m.TryView,
);
export const CommandsView = screen(
  () => import("../commands/CommandsView"),
  (m) => m.CommandsView,
);
export const UpgradeView = screen(
  () => import("../commands/UpgradeView"),
  (m) => m.UpgradeView,
);
export const LineView = screen(
  () => import("../comparing/LineView"),
  (m) => m.LineView,
);
export const CompareView = screen(
  () => import("../comparing/CompareView"),
  (m) => m.CompareView,
);
export const ProfilesView = screen(
  () => import("../profiles/ProfilesView"),
  (m) => m.ProfilesView,
);
export const BehaviourView = screen(
  () => import("../programs/behaviour/BehaviourView"),
  (m) => m.BehaviourView,
);
export const OrganisationScreen = screen(
  () => import("../organisation/OrganisationScreen"),
  (m) => m.OrganisationScreen,
);
const staff = () => import("../organisation/table/StaffView");
export const PeopleView = screen(staff, (m) => () => <m.StaffView section="people" />);
export const MachinesView = screen(staff, (m) => () => <m.StaffView section="machines" />);
export const StructureView = screen(
  () => import("../organisation/structure/StructureView"),
  (m) => m.StructureView,
);
export const SetupsView = screen(
  () => import("../organisation/setups/SetupsView"),
  (m) => m.SetupsView,
);
export const SetupFilesView = screen(
  () => import("../organisation/setups/SetupFiles"),
  (m) => m.SetupFilesView,
);
export const KeysView = screen(
  () => import("../organisation/keys/KeysView"),
  (m) => m.KeysView,
);
export const CardsView = screen(
  () => import("../cards/CardsView"),
  (m) => m.CardsView,
);
export const WorthView = screen(
  () => import("../organisation/worth/WorthView"),
  (m) => m.WorthView,
);
export const NightlyView = screen(
  () => import("../organisation/nightly/NightlyView"),
  (m) => m.NightlyView,
);
export const SurveyView = screen(
  () => import("../fleet/surveying/SurveyView"),
  (m) => m.SurveyView,
);
export const EnrolManyView = screen(
  () => import("../fleet/enrolling/EnrolManyView"),
  (m) => m.EnrolManyView,
);
export const ByHandView = screen(
  () => import("../fleet/byhand/ByHandView"),
  (m) => m.ByHandView,
);
export const ReleasesView = screen(
  () => import("../rollouts/ReleasesView"),
  (m) => m.ReleasesView,
);
export const ReleaseView = screen(
  () => import("../rollouts/ReleaseView"),
  (m) => m.ReleaseView,
);
export const PlanView = screen(
  () => import("../rollouts/PlanView"),
  (m) => m.PlanView,
);
export const WavesView = screen(
  () => import("../rollouts/WavesView"),
  (m) => m.WavesView,
);
export const DriftView = screen(
  () => import("../rollouts/DriftView"),
  (m) => m.DriftView,
);
export const AgentsView = screen(
  () => import("../fleet/AgentsView"),
  (m) => m.AgentsView,
);
export const TodayView = screen(
  () => import("../beginning/TodayView"),
  (m) => m.TodayView,
);
export const Landing = screen(
  () => import("../beginning/TodayView"),
  (m) => m.Landing,
);
export const AccountView = screen(
  () => import("../account/AccountView"),
  (m) => m.AccountView,
);
export const CatalogueView = screen(
  () => import("../programs/making/CatalogueView"),
  (m) => m.CatalogueView,
);
export const ProgramEditor = screen(
  () => import("../programs/making/ProgramEditor"),
  (m) => m.ProgramEditor,
);
export const TasksView = screen(
  () => import("../tasks/TasksView"),
  (m) => m.TasksView,
);
export const BeginStandard = screen(
  () => import("../standard/BeginStandard"),
  (m) => m.BeginStandard,
);

export const ListView = screen(
  () => import("../programs/lists/ListView"),
  (m) => m.ListView,
);
export const MatchingView = screen(
  () => import("../programs/matching/MatchingView"),
  (m) => m.MatchingView,
);

export const DescribedView = screen(
  () => import("../programs/described/DescribedView"),
  (m) => m.DescribedView,
);

/** Which code an address needs; the first beginning that fits counts. */
const CODE: readonly (readonly [string, readonly Loaded[]])[] = [
  ["/organisation/departments", [OrganisationScreen, StructureView]],
  ["/organisation/machines", [OrganisationScreen, MachinesView]],
  ["/organisation/people", [OrganisationScreen, PeopleView]],
  ["/organisation/setups", [OrganisationScreen, SetupsView]],
  ["/organisation/setups/files", [OrganisationScreen, SetupFilesView]],
  ["/organisation/nightly", [OrganisationScreen, NightlyView]],
  ["/organisation/keys", [OrganisationScreen, KeysView]],
  ["/programs/behaviour", [BehaviourView]],
  ["/profiles/history", [LineView]],
  ["/profiles/compare", [CompareView]],
  ["/standard/tasks", [TasksView]],
  ["/programs/edit", [ProgramEditor]],
  ["/programs/list", [ListView]],
  ["/programs/matching", [MatchingView]],
  ["/programs/file", [DescribedView]],
  ["/programs/all", [CatalogueView]],
  ["/programs/upgrade", [UpgradeView]],
  ["/organisation", [OrganisationScreen, PeopleView]],
  ["/programs", [CommandsView, CatalogueView]], // the other one where nothing can be looked through yet
  ["/profiles", [ProfilesView]],
  ["/machines/by-hand", [ByHandView]],
  ["/machines/releases/new", [PlanView]],
  ["/machines/releases/", [ReleaseView, WavesView]],
  ["/machines/releases", [ReleasesView]],
  ["/machines/drift", [DriftView]],
  ["/machines", [AgentsView]],
  ["/standard/propose", [ProposeView]],
  ["/standard", [StandardView, BeginStandard]],
  ["/clashes", [ClashesView]],
  ["/account", [AccountView]],
  ["/today", [TodayView]],
  ["/try", [TryView]],
  ["/", [Landing]],
];

/** Begins to load the code of an address, beside whatever else is asked for; without it one would wait for one after the other. */
export function loadCode(pathname: string): Promise<unknown> {
  const needed = CODE.find(([beginning]) => pathname.startsWith(beginning))?.[1] ?? [];
  // What doesn't come is told where the screen would be.
  return Promise.allSettled(needed.map((s) => s.load()));
}

/** How long the first screen has the connection and the processor for itself, in milliseconds. */
const FIRST = 1_500;

/** Loads the code of all other screens, one after the other while nothing else is to be done, so that each opens at once. */
export async function loadTheRest(): Promise<void> {
  await new Promise((later) => setTimeout(later, FIRST));
  for (const one of new Set(CODE.flatMap(([, needed]) => needed))) {
    await new Promise((idle) => ("requestIdleCallback" in window ? requestIdleCallback(idle) : setTimeout(idle)));
    await one.load().catch(() => undefined);
  }
}
