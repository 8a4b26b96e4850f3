import Button from "@mui/material/Button";
import { Fragment, useState } from "react";
import type { Schemas } from "../api/client";
import { useNear } from "../organisation/useOrganisation";
import { dayOf, momentOf } from "../shared/days";
import type { Named } from "../shared/fields";
import { OneFound } from "../shared/fields";
import type { Choice } from "../shared/Part";
import { Part } from "../shared/Part";
import screen from "../shared/screen.module.css";
import { Empty, Trouble, Waiting } from "../shared/states";
import { useAddress } from "../shared/useAddress";
import { useRights } from "../shared/useSession";
import type { Wish } from "./asked";
import { PACES, personIn, wishFrom } from "./asked";
import styles from "./Cards.module.css";
import { ManyCards } from "./ManyCards";
import { Sheet } from "./Sheet";
import type { Card } from "./useCards";
import { fileOf, useCard, useCardChoices, useCardPage, useCardsGiven, useGiveCard } from "./useCards";

/** Cards: chosen by a sentence, shown as they will lie on the desk, handed out. */
export function CardsView() {
  const [params, change] = useAddress();
  const person = personIn(params);
  const choices = useCardChoices(person);
  const others = person && (
    <Button variant="outlined" color="inherit" onClick={() => change({ whom: null, keyboard: null })}>
      A card for everybody instead
    </Button>
  );
  if (choices.isError) {
    return (
      <>
        <Trouble error={choices.error} again={() => choices.refetch()} />
        {others && <div className={styles.others}>{others}</div>}
      </>
    );
  }
  if (!choices.data) return <Waiting what="for whom there can be cards" />;
  const wish = wishFrom(params, choices.data);
  if (!wish) {
    const { person: somebody } = choices.data;
    return (
      <Empty
        whole
        title={`There is no keyboard yet to make a card for${somebody ? `: ${somebody.name} has none` : ""}.`}
      >
        <p>
          Seat {somebody ? "them" : "people"} at a machine first: a card is for those who type on a keyboard. {others}
        </p>
      </Empty>
    );
  }
  // While a person's keyboards are asked for, those of the one before are at hand: nothing of them is shown as the other's.
  const settled = (choices.data.person?.id ?? "") === person;
  return <OfWish wish={wish} choices={choices.data} settled={settled} />;
}

interface OfWishProps {
  wish: Wish;
  choices: Schemas["CardChoicesOut"];
  settled: boolean;
}

function OfWish({ wish, choices, settled }: OfWishProps) {
  const rights = useRights();
  const card = useCard(settled ? wish : null);
  const { give } = useGiveCard();
  const drawn = settled ? card.data : undefined;
  return (
    <div className={styles.screen}>
      <div className={screen.top}>
        <h1>Cards</h1>
        {drawn && (
          <span>
            {drawn.people} {drawn.people === 1 ? "person gets" : "people get"} this one
            {drawn.last
              ? `; card ${drawn.last.number} went out on ${momentOf(drawn.last.at)}`
              : "; they had none before"}
          </span>
        )}
        <span className={screen.right} />
        {rights.edit && (
          <Button
            variant="outlined"
            color="inherit"
            disabled={!drawn}
            loading={give.isPending}
            onClick={() => give.mutate(wish)}
          >
            Hand it out
          </Button>
        )}
        <Button variant="contained" href={fileOf(wish, "pdf")} disabled={!drawn || drawn.pages === null}>
          PDF
        </Button>
        <Button color="inherit" href={fileOf(wish, "html")}>
          Page
        </Button>
        <Button color="inherit" href={fileOf(wish, "txt")}>
          Text
        </Button>
      </div>
      <div className={styles.both}>
        <div className={styles.choosing}>
          <Sentence wish={wish} choices={choices} />
          {card.isError && <Trouble error={card.error} again={() => card.refetch()} />}
          {drawn && !card.isError && <About wish={wish} card={drawn} />}
          <ManyCards wish={wish} languages={choices.languages} />
          <Given />
        </div>
        <div className={styles.table}>
          {!drawn && !card.isError && <Waiting what="the card" />}
          {drawn && !card.isError && <Sheet card={drawn} paper={wish.paper ?? "A5 across"} />}
        </div>
      </div>
    </div>
  );
}

const NUMBERS = ["0", "4", "6", "8", "10", "12", "16", "20", "30", "40", "60"];

/** Another group is another choice of keyboards. */
const ANYONE = { keyboard: "" };

function Sentence({ wish, choices }: { wish: Wish; choices: Schemas["CardChoicesOut"] }) {
  const [params, change] = useAddress();
  const rights = useRights();
  const [picking, setPicking] = useState(false);
  const whom = wish.of === "everybody" ? "" : wish.of === "person" ? "person" : `${wish.of} ${wish.who}`;
  const named: Choice[] = [
    { key: "", text: "everybody", parts: { whom: "" } },
    ...choices.roles.map((r) => ({ key: `role ${r.id}`, text: r.name, more: "role", parts: { whom: `role ${r.id}` } })),
    ...choices.departments.map((d) => ({
      ...{ key: `department ${d.id}`, text: d.name, more: "department", parts: { whom: `department ${d.id}` } },
    })),
    ...(rights.edit ? [{ key: "person", text: "one person", parts: {} }] : []),
  ];
  const chooseWhom = (parts: Record<string, string>) => {
    setPicking(!("whom" in parts));
    if ("whom" in parts) change(wish.of === "person" ? { ...parts, ...ANYONE } : parts);
  };
  const keyboards = choices.keyboards.map((k) => ({
    ...{ key: `${k.platform} ${k.layout}`, text: k.name, more: String(k.people) },
    parts: { keyboard: `${k.platform} ${k.layout}` },
  }));
  const keyboard = `${wish.platform} ${wish.layout}`;
  const without = new Set((params.get("without") ?? "").split(",").filter(Boolean));
  const turned = (name: string, on: boolean) => {
    const next = new Set(without);
    if (on) next.delete(name);
    else next.add(name);
    return [...next].join(",");
  };
  const flag = (name: string, label: string, yes: string, no: string) => {
    const on = !without.has(name);
    return (
      <Part
        label={label}
        value={on ? yes : no}
        chosen={on ? "yes" : "no"}
        choices={[
          { key: "yes", text: yes, parts: { without: turned(name, true) } },
          { key: "no", text: no, parts: { without: turned(name, false) } },
        ]}
        change={change}
      />
    );
  };
  const wholes = { "": "nothing else", "by program": "the whole list by program", "by task": "the whole list by task" };
  const one = (name: string, id: string, text: string) => ({ key: id, text, parts: { [name]: id } });
  return (
    <>
      <p className={styles.sentence}>
        For{" "}
        <Part
          label="For whom"
          value={named.find((n) => n.key === whom)?.text ?? "everybody"}
          chosen={whom}
          choices={named}
          change={chooseWhom}
        />{" "}
        on{" "}
        <Part
          label="Keyboard"
          value={keyboards.find((k) => k.key === keyboard)?.text ?? keyboard}
          chosen={keyboard}
          choices={keyboards}
          change={change}
        />
        , in{" "}
        <Part
          label="Language"
          value={choices.languages.find((l) => l.id === wish.language)?.name ?? ""}
          chosen={wish.language}
          choices={choices.languages.map((l) => one("language", l.id, l.name))}
          change={change}
        />
        , on{" "}
        <Part
          label="Paper"
          value={wish.paper ?? ""}
          chosen={wish.paper}
          choices={choices.papers.map((p) => one("paper", p, p))}
          change={change}
        />
        . First{" "}
        <Part
          label="How many keys"
          value={`${wish.most} keys`}
          chosen={String(wish.most)}
          choices={NUMBERS.map((n) => one("most", n, `${n} keys`))}
          change={change}
        />{" "}
        that are worth most,{" "}
        <Part
          label="Pace"
          value={paceSaid(wish.pace ?? 0)}
          chosen={String(wish.pace ?? 0)}
          choices={PACES.map((p) => ({ key: String(p), text: paceSaid(p), parts: { pace: p === 0 ? "" : String(p) } }))}
          change={change}
        />
        , then{" "}
        {flag("changed", "What has changed", "what has changed since the last card", "nothing of what has changed")},
        then {flag("hurry", "In a hurry", "what they need in a hurry", "nothing for a hurry")}, then{" "}
        <Part
          label="The rest"
          value={wholes[wish.whole ?? ""]}
          chosen={wish.whole}
          choices={Object.entries(wholes).map(([id, text]) => one("whole", id, text))}
          change={change}
        />
        .
      </p>
      {(picking || personIn(params) !== "") && (
        <OnePerson known={choices.person} choose={(id) => change({ whom: `person ${id}`, ...ANYONE })} />
      )}
    </>
  );
}

/** Whose card it is, looked for by name. */
function OnePerson({ known, choose }: { known: Named | null; choose: (id: string) => void }) {
  const [words, setWords] = useState("");
  const near = useNear("people", words);
  return (
    <div className={styles.person}>
      <OneFound
        label="Which person"
        value={known}
        choices={near.map((row) => ({ id: row.id, name: row.cells.name ?? row.id }))}
        onChange={(one) => one && choose(one.id)}
        onWords={setWords}
      />
    </div>
  );
}

function paceSaid(pace: number): string {
  return pace === 0 ? "as a list" : `in weeks of ${pace} new keys`;
}

function About({ wish, card }: { wish: Wish; card: NonNullable<ReturnType<typeof useCard>["data"]> }) {
  const [params, change] = useAddress();
  const leave = (id: string) => {
    const next = new URLSearchParams(params);
    next.append("leave", id);
    return `?${next}`;
  };
  const purpose = "left out on purpose";
  const reasons = [...new Set(card.left_out.map((l) => l.why))];
  return (
    <>
      {card.why_not && <p role="status">{card.why_not}</p>}
      {card.beyond.length > 0 && (
        <p role="status" className={styles.long}>
          It needs {card.pages} pages of {wish.paper}: take a larger paper, or fewer keys. To fit, {gone(card.beyond)}{" "}
          would have to go.
        </p>
      )}
      {card.parts
        .filter((p) => p.learned)
        .map((part) => (
          <Fragment key={part.title}>
            <h2>{part.title}</h2>
            <ul className={styles.lines}>
              {part.lines.map((line) => (
                <li key={line.id}>
                  <b>{line.name}</b>
                  <span>{line.says}</span>
                  <a href={leave(line.id)}>
                    leave it out
                    <span className="unseen">: {line.name}</span>
                  </a>
                </li>
              ))}
            </ul>
          </Fragment>
        ))}
      {card.left_out.length > 0 && (
        <>
          <h2>Left out</h2>
          <ul className={styles.lines}>
            {reasons.map((why) => (
              <li key={why}>
                <span>{why}</span>
                <b>
                  {gone(
                    card.left_out.filter((l) => l.why === why),
                    12,
                  )}
                </b>
              </li>
            ))}
          </ul>
          {reasons.includes(purpose) && (
            <Button color="inherit" variant="outlined" onClick={() => change({ leave: null })}>
              Leave nothing out
            </Button>
          )}
        </>
      )}
    </>
  );
}

function Given() {
  const given = useCardsGiven().data ?? [];
  const { back } = useGiveCard();
  const { open, end } = useCardPage();
  const rights = useRights();
  if (given.length === 0) return null;
  return (
    <section aria-label="Handed out">
      <h2>Handed out</h2>
      {open.data && (
        <p role="status" className={styles.address}>
          Whoever has this address reads the card until {dayOf(open.data.until)} without signing in, finds keys on it
          and tests themselves; it isn't shown again: <code>{open.data.address}</code>
        </p>
      )}
      <ul className={styles.lines}>
        {given.slice(0, 8).map((c) => (
          <li key={c.number}>
            <a href={fileOf(c.wish, "pdf", c.number)}>
              {c.number}: {c.title}
            </a>
            <span>
              {momentOf(c.at)}, {c.by}, {c.people} {c.people === 1 ? "person" : "people"}
              {c.open_until && `; its page is open until ${dayOf(c.open_until)}`}
            </span>
            {rights.edit && (
              <span className={styles.acts}>
                <Act number={c.number} says={c.open_until ? "another address" : "open a page"} act={open.mutate} />
                {c.open_until && <Act number={c.number} says="close its page" act={end.mutate} />}
                <Act number={c.number} says="take it back" act={back.mutate} />
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Act({ number, says, act }: { number: number; says: string; act: (number: number) => void }) {
  return (
    <button type="button" className={styles.back} onClick={() => act(number)}>
      {says}
      <span className="unseen">: card {number}</span>
    </button>
  );
}

/** Lines, the first few by name. */
function gone(lines: Card["beyond"], few = 3): string {
  const named = lines.slice(0, few).map((l) => l.name);
  const more = lines.length - named.length;
  return more > 0 ? `${named.join(", ")} and ${more} more` : named.join(", ");
}
