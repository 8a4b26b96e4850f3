import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Refusal } from "../../shared/Consequences";
import screen from "../../shared/screen.module.css";
import { Trouble, Waiting } from "../../shared/states";
import { useRights } from "../../shared/useSession";
import type { Assumed } from "./useWorth";
import { useAssume, useAssumed } from "./useWorth";
import styles from "./Worth.module.css";

type Name = Exclude<keyof Assumed, "shares">;

const PAPER = "Card, Moran and Newell, 1980";
const OURS = "our choice";

/** What each figure says, its unit, and where the usual one comes from. */
const OPERATORS: [Name, string, string, string][] = [
  ["keystroke_ms", "A keystroke; a modifier is one", "ms", PAPER],
  ["pointing_ms", "Pointing at something with the mouse", "ms", PAPER],
  ["button_ms", "A press of the mouse's button", "ms", PAPER],
  ["homing_ms", "A hand between keyboard and mouse, one way", "ms", PAPER],
  ["thought_ms", "A moment of thought", "ms", PAPER],
  ["reach_ms", "Each point of reach", "ms", OURS],
];
const PEOPLE: [Name, string, string, string][] = [
  ["weekly", "Uses a week by one person where nobody has said", "times", "our choice; makes points, never minutes"],
  ["share", "Of people who have a key, those who can be expected to use it", "in 100", "nothing is known: half"],
  ["slips", "Uses that go to the old key in the first week after it moved", "in 100", OURS],
  ["halves_after", "That falls by half every", "weeks", OURS],
  ["weeks", "Old habits are counted for", "weeks", "a quarter of a year"],
  ["notice_ms", "Noticing that it was the old key", "ms", OURS],
  ["risky", "A slip costs more where the old key does something risky now", "times as much", OURS],
];

/** What is assumed where minutes are counted: seen with its source, and changed by the organisation. */
export function WorthView() {
  const found = useAssumed();
  if (found.isError) return <Trouble error={found.error} again={() => found.refetch()} />;
  if (!found.data) return <Waiting what="what is assumed" />;
  return <Table key={JSON.stringify(found.data.assumed)} {...found.data} />;
}

function Table({ assumed, usual, roles }: Schemas["AssumedOut"]) {
  const rights = useRights();
  const assume = useAssume();
  const [typed, setTyped] = useState<Record<string, string>>({});
  const textOf = (name: Name) => typed[name] ?? String(assumed[name]);
  const shareOf = (role: string) => typed[`share ${role}`] ?? String(assumed.shares?.[role] ?? "");
  const wanted: Assumed = { ...assumed, shares: {} };
  for (const [name] of [...OPERATORS, ...PEOPLE]) wanted[name] = Number(textOf(name));
  for (const role of roles)
    if (shareOf(role.id).trim()) wanted.shares = { ...wanted.shares, [role.id]: Number(shareOf(role.id)) };
  const wrong = (text: string) => !/^\d{1,5}$/.test(text.trim());
  const faulty =
    [...OPERATORS, ...PEOPLE].some(([name]) => wrong(textOf(name))) ||
    roles.some((r) => shareOf(r.id).trim() !== "" && wrong(shareOf(r.id)));
  const same = JSON.stringify(wanted) === JSON.stringify({ ...assumed, shares: assumed.shares ?? {} });
  const line = ([name, says, unit, from]: [Name, string, string, string]) => (
    <tr key={name}>
      <th scope="row">{says}</th>
      <td>
        <TextField
          value={textOf(name)}
          disabled={!rights.edit}
          error={wrong(textOf(name))}
          onChange={(e) => setTyped({ ...typed, [name]: e.target.value })}
          slotProps={{ htmlInput: { "aria-label": says, inputMode: "numeric", maxLength: 5 } }}
        />{" "}
        {unit}
      </td>
      <td>{assumed[name] === usual[name] ? from : `here; usually ${usual[name]} (${from})`}</td>
    </tr>
  );
  return (
    <div className={styles.screen}>
      <div className={screen.top}>
        <h1>What a key is worth</h1>
        <span>Minutes a week follow from these figures, and from how often each role uses a command.</span>
      </div>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          assume.mutate(wanted);
        }}
      >
        <h2>How long hands take</h2>
        <table>
          <tbody>{OPERATORS.map(line)}</tbody>
        </table>
        <h2>How people take to keys</h2>
        <table>
          <tbody>
            {PEOPLE.map(line)}
            {roles.map((r) => (
              <tr key={r.id}>
                <th scope="row">{r.name} who can be expected to use a key</th>
                <td>
                  <TextField
                    value={shareOf(r.id)}
                    placeholder={String(wanted.share)}
                    disabled={!rights.edit}
                    error={shareOf(r.id).trim() !== "" && wrong(shareOf(r.id))}
                    onChange={(e) => setTyped({ ...typed, [`share ${r.id}`]: e.target.value })}
                    slotProps={{
                      htmlInput: { "aria-label": `${r.name} who use a key`, inputMode: "numeric", maxLength: 3 },
                    }}
                  />{" "}
                  in 100
                </td>
                <td>{shareOf(r.id).trim() === "" ? "as for everybody" : "here"}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {assume.isError && <Refusal error={assume.error} />}
        {rights.edit && (
          <div className={styles.do}>
            <Button type="submit" variant="contained" disabled={faulty || same} loading={assume.isPending}>
              Assume this
            </Button>
            <Button
              color="inherit"
              variant="outlined"
              disabled={JSON.stringify(assumed) === JSON.stringify(usual)}
              onClick={() => assume.mutate(usual)}
            >
              As usual again
            </Button>
          </div>
        )}
      </form>
    </div>
  );
}
