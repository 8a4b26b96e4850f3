import Button from "@mui/material/Button";
import { lazy, Suspense } from "react";
import { Link, NavLink, Outlet, useLocation, useNavigate } from "react-router";
import { useBeginning } from "../beginning/useBeginning";
import { USUAL } from "../clashes/filters";
import { useClashes } from "../clashes/useClashes";
import { useWaitingMachines } from "../fleet/useAgents";
import { KeyboardStrip } from "../keyboard/KeyboardStrip";
import { StripProvider } from "../keyboard/strip";
import { useWaitingLists } from "../organisation/nightly/useNightly";
import { BESIDE, GUIDE, lensParts, useLens } from "../shared/lens";
import { OwnShortcuts, useAction } from "../shared/own/own";
import { useAddress } from "../shared/useAddress";
import { useHistory, useRedo, useUndo } from "../shared/useHistory";
import { useRights, useSession, useSignOut } from "../shared/useSession";
import { useTheme } from "../shared/useTheme";
import { useToday } from "../today/useToday";
import styles from "./Frame.module.css";
import { LensBar } from "./LensBar";
import { LookUp } from "./LookUp";
import { OwnList } from "./own/OwnList";

/** Lens above, rail at the left, keyboard below, the screen in the middle. */
export function Frame() {
  return (
    <StripProvider>
      <OwnShortcuts>
        <a className={styles.skip} href="#screen">
          Skip to the screen
        </a>
        <div className={styles.frame}>
          <header className={styles.lens}>
            <Mark />
            <LensBar />
            <span className={styles.grow} />
            <Tools />
          </header>
          <Rail />
          <div className={styles.middle}>
            <main id="screen" className={styles.screen} tabIndex={-1}>
              <Outlet />
            </main>
            <GuideBeside />
          </div>
          <KeyboardStrip />
        </div>
        <OwnList />
      </OwnShortcuts>
    </StripProvider>
  );
}

const Guide = lazy(() => import("./Guide").then((m) => ({ default: m.Guide })));

function useGuide() {
  const [params, change] = useAddress();
  const open = params.has(GUIDE);
  return { open, turn: () => change({ [GUIDE]: open ? null : BESIDE }) };
}

function GuideBeside() {
  const { open, turn } = useGuide();
  useAction("guide", turn);
  return (
    open && (
      <Suspense>
        <Guide />
      </Suspense>
    )
  );
}

function GuideButton() {
  const { open, turn } = useGuide();
  return (
    <button type="button" className={styles.toGuide} aria-expanded={open} onClick={turn}>
      {open ? "Close the guide" : "What to do here"}
    </button>
  );
}

function Mark() {
  return (
    <span className={styles.mark}>
      <svg width="17" height="17" viewBox="0 0 17 17" aria-hidden="true">
        <path d="M2 2h13v13H2z" fill="none" stroke="currentColor" strokeWidth="1.6" />
        <path d="M2 12.2h13V15H2z" fill="currentColor" />
        <circle cx="8.5" cy="6.6" r="2.1" fill="var(--amber)" />
      </svg>
      Amber Key
    </span>
  );
}

function Rail() {
  const [lens] = useLens();
  const clashes = useClashes(lens?.setup.setup, lens?.everywhere ?? false);
  const machines = useWaitingMachines();
  const lists = useWaitingLists();
  const { search } = useLocation();
  const open = clashes.data?.groups.filter((g) => g.allowed === null && USUAL.includes(g.severity)).length ?? 0;
  const waiting = machines.data?.need_you ?? 0;
  const needs = useToday().data?.matters.length ?? 0;
  const missing = useBeginning().data?.missing ?? false;
  const places = [
    {
      to: "/today",
      text: "Today",
      count: missing ? 0 : needs,
      says: needs === 1 ? "thing needs you" : "things need you",
    },
    { to: "/standard", text: "Standard", count: 0, says: "" },
    { to: "/programs", text: "Programs", count: 0, says: "" },
    { to: "/clashes", text: "Clashes", count: open, says: "to decide" },
    { to: "/try", text: "Try", count: 0, says: "" },
    { to: "/profiles", text: "Profiles", count: 0, says: "" },
    {
      to: "/organisation",
      text: "Organisation",
      count: lists.data?.waiting ?? 0,
      says: lists.data?.waiting === 1 ? "list waits" : "lists wait",
    },
    { to: "/machines", text: "Machines", count: waiting, says: "need you" },
    { to: "/cards", text: "Cards", count: 0, says: "" },
  ];
  const navigate = useNavigate();
  const go = (to: string) => () => navigate({ pathname: to, search: lensParts(search) });
  useAction("today", go("/today"));
  useAction("standard", go("/standard"));
  useAction("programs", go("/programs"));
  useAction("clashes", go("/clashes"));
  useAction("try", go("/try"));
  useAction("profiles", go("/profiles"));
  useAction("organisation", go("/organisation"));
  useAction("machines", go("/machines"));
  useAction("cards", go("/cards"));
  return (
    <nav className={styles.rail} aria-label="Screens">
      {places.map((p) => (
        <NavLink
          key={p.to}
          to={{ pathname: p.to, search: lensParts(search) }}
          className={({ isActive }) => (isActive ? styles.on : "")}
        >
          {p.text}
          {p.count > 0 && (
            <em>
              {p.count}
              <span className="unseen"> {p.says}</span>
            </em>
          )}
        </NavLink>
      ))}
      <LookUp />
      <GuideButton />
    </nav>
  );
}

function Tools() {
  const history = useHistory().data ?? [];
  const undo = useUndo();
  const redo = useRedo();
  const me = useSession().data?.me;
  const rights = useRights();
  const signOut = useSignOut();
  const [shown, next] = useTheme();
  const last = history.find((c) => c.mine && !c.undone);
  const undone = history.find((c) => c.mine && c.undone);
  useAction("undo", () => rights.edit && last && undo.mutate(last.id));
  useAction("redo", () => rights.edit && undone && redo.mutate(undone.id));
  return (
    <>
      {rights.edit && (
        <>
          <Button
            color="inherit"
            disabled={!last || undo.isPending}
            title={last ? `Undo: ${last.title}` : "Nothing to undo"}
            onClick={() => last && undo.mutate(last.id)}
          >
            Undo
          </Button>
          <Button
            color="inherit"
            disabled={!undone || redo.isPending}
            title={undone ? `Do again: ${undone.title}` : "Nothing to do again"}
            onClick={() => undone && redo.mutate(undone.id)}
          >
            Redo
          </Button>
        </>
      )}
      <Button color="inherit" onClick={next} title={`Shown as ${shown}. Press for another look.`}>
        {shown}
        <span className="unseen">, another look</span>
      </Button>
      <Link
        className={styles.who}
        to="/account"
        title={`${me?.role}: password, sessions${rights.administer ? ", accounts" : ""}`}
      >
        <span className="unseen">Signed in: </span>
        {me?.name}
        <span className="unseen">, {me?.role}</span>
      </Link>
      <Button color="inherit" onClick={() => signOut.mutate()}>
        Sign out
      </Button>
    </>
  );
}
