/** Chosen rows: some by id, or all that are wanted but some. */
export interface Selection {
  all: boolean;
  chosen: ReadonlySet<string>;
  except: ReadonlySet<string>;
}

export const NOTHING: Selection = { all: false, chosen: new Set(), except: new Set() };

export type Choosing = { type: "one"; id: string } | { type: "all" } | { type: "none" };

export function choose(selection: Selection, what: Choosing): Selection {
  switch (what.type) {
    case "none":
      return NOTHING;
    case "all":
      return selection.all && selection.except.size === 0 ? NOTHING : { ...NOTHING, all: true };
    case "one": {
      const name = selection.all ? "except" : "chosen";
      const next = new Set(selection[name]);
      if (!next.delete(what.id)) next.add(what.id);
      return { ...selection, [name]: next };
    }
  }
}

export function isSelected(selection: Selection, id: string): boolean {
  return selection.all ? !selection.except.has(id) : selection.chosen.has(id);
}

export function countOf(selection: Selection, total: number): number {
  return selection.all ? total - selection.except.size : selection.chosen.size;
}
