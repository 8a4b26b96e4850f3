import { NavLink, Outlet, useLocation } from "react-router";
import { useWaitingLists } from "./nightly/useNightly";
import styles from "./Organisation.module.css";

const PARTS = [
  { to: "people", text: "People" },
  { to: "machines", text: "Machines" },
  { to: "departments", text: "Departments, roles, kits" },
  { to: "setups", text: "Setups in use" },
  { to: "nightly", text: "Nightly lists" },
  { to: "worth", text: "What a key is worth" },
  { to: "keys", text: "Who signs" },
];

/** Who works at what: the parts of the organisation, each a place of its own. */
export function OrganisationScreen() {
  const { search } = useLocation();
  const waiting = useWaitingLists().data?.waiting ?? 0;
  return (
    <div className={styles.screen}>
      <nav className={styles.parts} aria-label="Parts of the organisation">
        {PARTS.map((p) => (
          <NavLink key={p.to} to={{ pathname: p.to, search }} className={({ isActive }) => (isActive ? styles.on : "")}>
            {p.text}
            {p.to === "nightly" && waiting > 0 && <em> {waiting}</em>}
          </NavLink>
        ))}
      </nav>
      <Outlet />
    </div>
  );
}
