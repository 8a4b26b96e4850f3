import type { Section } from "../useOrganisation";

export interface Column {
  id: string;
  title: string;
  width: string;
  number?: boolean;
}

const PEOPLE: Column[] = [
  { id: "name", title: "Name", width: "minmax(150px, 1.2fr)" },
  { id: "department", title: "Department", width: "minmax(120px, 1fr)" },
  { id: "roles", title: "Roles", width: "minmax(120px, 1fr)" },
  { id: "people", title: "People", width: "66px", number: true },
  { id: "at", title: "Sits at", width: "minmax(130px, 1.1fr)" },
  { id: "setups", title: "Setup", width: "minmax(170px, 1.6fr)" },
  { id: "profiles", title: "Own profiles", width: "minmax(90px, 0.7fr)" },
];
const MACHINES: Column[] = [
  { id: "name", title: "Name", width: "minmax(150px, 1.2fr)" },
  { id: "platform", title: "Platform", width: "minmax(110px, 0.8fr)" },
  { id: "layouts", title: "Layouts", width: "minmax(100px, 0.8fr)" },
  { id: "body", title: "Keyboard", width: "minmax(120px, 1fr)" },
  { id: "kits", title: "Kits", width: "minmax(110px, 1fr)" },
  { id: "people", title: "People", width: "66px", number: true },
  { id: "at", title: "Who sits there", width: "minmax(120px, 1.1fr)" },
  { id: "profiles", title: "Own profiles", width: "minmax(80px, 0.6fr)" },
];

export function columnsOf(section: Section): Column[] {
  return section === "people" ? PEOPLE : MACHINES;
}
