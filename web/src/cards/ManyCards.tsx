import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { Refusal } from "../shared/Consequences";
import type { Named } from "../shared/fields";
import { Part } from "../shared/Part";
import type { Wish } from "./asked";
import styles from "./Cards.module.css";
import { useManyCards } from "./useCards";

type Language = NonNullable<Wish["language"]>;
type Form = Schemas["ManyCardsIn"]["form"];
const FORMS: { form: Form; text: string }[] = [
  { form: "pdf", text: "a zip of PDFs" },
  { form: "print", text: "one PDF to print" },
  { form: "html", text: "a zip of pages" },
  { form: "txt", text: "a zip of texts" },
];
const EVERY = "every";

/** A card like this one for every role on every keyboard that its people type on, made by a worker. */
export function ManyCards({ wish, languages }: { wish: Wish; languages: Named[] }) {
  const { make, batch } = useManyCards();
  const [chosen, setChosen] = useState("");
  const [form, setForm] = useState<Form>("pdf");
  const { language = "en", paper, most } = wish;
  // The language of the card beside it, until another one is chosen.
  const own = chosen || language;
  const named = [...languages, { id: EVERY, name: "every language" }];
  const asked = (own === EVERY ? languages.map((l) => l.id) : [own]) as Language[];
  const writing = batch?.state === "working" && batch.done === batch.of;
  return (
    <section aria-label="Cards of all roles">
      <h2>For all roles</h2>
      {make.isError && <Refusal error={make.error} />}
      {batch?.state === "working" && (
        <>
          <LinearProgress
            variant="determinate"
            value={(100 * batch.done) / batch.of}
            aria-label="Cards that are made"
          />
          <p role="status">
            {writing
              ? `All ${batch.of} cards are laid out; the file is being written.`
              : `${batch.done} of ${batch.of} cards are made.`}{" "}
            You can leave meanwhile.
          </p>
        </>
      )}
      {batch?.state === "done" && (
        <p role="status">
          <a className={styles.fetch} href={`/api/cards/many/${batch.id}/${batch.file}`}>
            Fetch the {batch.of} cards
          </a>{" "}
          {batch.says}
        </p>
      )}
      {batch?.state === "failed" && <p role="status">They couldn't be made: {batch.says}</p>}
      {batch?.state !== "working" && (
        <>
          <p className={styles.sentence}>
            In{" "}
            <Part
              label="Languages of all cards"
              value={named.find((l) => l.id === own)?.name ?? own}
              choices={named.map((l) => ({ key: l.id, text: l.name, parts: { language: l.id } }))}
              change={(parts) => setChosen(parts.language ?? "")}
            />
            , as{" "}
            <Part
              label="Files of all cards"
              value={FORMS.find((f) => f.form === form)?.text ?? form}
              choices={FORMS.map((f) => ({ key: f.form, text: f.text, parts: { form: f.form } }))}
              change={(parts) => setForm(parts.form as Form)}
            />
            .
          </p>
          <div className={styles.many}>
            <Button
              color="inherit"
              variant="outlined"
              loading={make.isPending}
              onClick={() => make.mutate({ languages: asked, paper, most, form })}
            >
              Make a card for every role
            </Button>
          </div>
        </>
      )}
    </section>
  );
}
