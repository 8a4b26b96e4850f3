import type { Schemas } from "../api/client";

export type Group = Schemas["GroupOut"];
type Packed = Schemas["PackedOut"];

/** What every place in a table holds; a place beyond it is the server's fault, and told as such. */
function at<T>(table: readonly T[], place: number | undefined): T {
  const found = place === undefined ? undefined : table[place];
  if (found === undefined) throw new RangeError(`The answer names place ${place}, and its table has ${table.length}.`);
  return found;
}

/** Whole groups out of their columns. What several groups have in common is one object in all of them. */
export function unpacked(packed: Packed): Group[] {
  const { texts, setups, department_ids, strokes, groups } = packed;
  const text = (place: number | undefined) => at(texts, place);
  const shortcuts = packed.shortcuts.text.map((own, n) => ({
    text: text(own),
    words: text(packed.shortcuts.words[n]),
    caps: at(packed.shortcuts.caps, n).map((press) => press.map(text)),
  }));
  const { program, program_name, command, command_name, scope, scope_name, shortcut } = packed.parties;
  const parties = program.map((own, n) => ({
    program: text(own),
    program_name: text(program_name[n]),
    command: text(command[n]),
    command_name: text(command_name[n]),
    scope: text(scope[n]),
    scope_name: text(scope_name[n]),
    shortcut: at(shortcuts, shortcut[n]),
  }));
  const fresh = new Set(groups.new);
  const doubtful = new Set(groups.may_be_meant);
  return groups.identity.map((identity, n) => {
    const [inProgram, inScope] = at(groups.focus, n);
    const holder = at(groups.holder, n);
    const stroke = at(groups.stroke, n);
    return {
      identity,
      kind: at(groups.kind, n),
      severity: at(groups.severity, n),
      taken_at: at(groups.taken_at, n),
      meant_for: at(groups.meant_for, n),
      seen_in: at(setups, groups.seen_in[n]),
      says: text(groups.says[n]),
      text: text(groups.text[n]),
      taken_says: text(groups.taken_says[n]),
      meant_says: text(groups.meant_says[n]),
      subject: at(parties, groups.subject[n]),
      holder: holder === null ? null : at(parties, holder),
      stroke: stroke === null ? null : at(strokes, stroke),
      strokes: at(groups.strokes, n).map((s) => at(strokes, s)),
      focus: inProgram === undefined ? null : { program: text(inProgram), scope: text(inScope) },
      setups: at(groups.setups, n).map((s) => at(setups, s)),
      departments: at(groups.departments, n).map((d) => at(department_ids, d)),
      people: at(groups.people, n),
      new: fresh.has(n),
      may_be_meant: doubtful.has(n),
      meaning: groups.meaning[n] ?? null,
      allowed: groups.allowed[n] ?? null,
    };
  });
}
