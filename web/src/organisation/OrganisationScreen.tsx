import { NavLink, Outlet, useLocation } from "react-router";
import styles from "./Organisation.module.css";

const PARTS = [
  { to: "people", text: "People" },
  { to: "machines", text: "Machines" },
  { to: "departments", text: "Departments, roles, kits" },
  { to: "setups", text: "Setups in use" },
];

/** Who works at what: the parts of the organisation, each a place of its own. */
export function OrganisationScreen() {
  const { search } = useLocation();
  return (
    <div className={styles.screen}>
      <nav className={styles.parts} aria-label="Parts of the organisation">
        {PARTS.map((p) => (
          <NavLink key={p.to} to={{ pathname: p.to, search }} className={({ isActive }) => (isActive ? styles.on : "")}>
            {p.text}
          </NavLink>
        ))}
      </nav>
      <Outlet />
    </div>
  );
}
