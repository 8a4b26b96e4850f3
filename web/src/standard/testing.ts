import { shortcut } from "../testing/stage";
import type { Cell, ProgramHead, Standard, State, Task } from "./useStandard";

const COUNT = { agree: 1, could: 2, people_agree: 31, people_could: 62 };

export function program(id: string, parts: Partial<ProgramHead> = {}): ProgramHead {
  return { id, name: id[0]?.toUpperCase() + id.slice(1), kind: "office", people: 31, covered: COUNT, ...parts };
}

export function cell(of: string, state: State, keys?: string, parts: Partial<Cell> = {}): Cell {
  return {
    program: of,
    state,
    keys: keys ? [shortcut(keys)] : [],
    why: "",
    layer: "default",
    people: 31,
    of: 31,
    clash: null,
    seen_in: "counters",
    ...parts,
  };
}

export function task(id: string, parts: Partial<Task> = {}): Task {
  return {
    id,
    name: id[0]?.toUpperCase() + id.slice(1),
    other_words: [],
    group: "",
    protected: false,
    family: null,
    line: { key: `${id} on windows`, layouts: [], shortcut: shortcut("F9"), reason: "", owner: "Ines", since: null },
    further: [],
    cells: [],
    covered: COUNT,
    ...parts,
  };
}

export function matrix(tasks: Task[], parts: Partial<Standard> = {}): Standard {
  return {
    name: "The standard",
    digest: "d1",
    platform: "windows",
    layouts: ["de", "us"],
    programs: [program("sheet"), program("mail")],
    tasks,
    families: [{ id: "walk", name: "Walking", members: ["next", "back"], whole: false }],
    departments: [],
    states: [
      { state: "differs", count: 3 },
      { state: "agrees", count: 4 },
    ],
    whole: COUNT,
    people: 31,
    points: [],
    waiting: { entries: 2, revision: 3, released: 1 },
    ...parts,
  };
}
