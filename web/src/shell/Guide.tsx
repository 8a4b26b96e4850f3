import Tooltip from "@mui/material/Tooltip";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import Markdown from "react-markdown";
import { Link, useLocation } from "react-router";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { Refusal } from "../shared/Consequences";
import { BESIDE, GUIDE } from "../shared/lens";
import { Waiting } from "../shared/states";
import { useAddress } from "../shared/useAddress";
import styles from "./Guide.module.css";

type Page = Schemas["GuidePageOut"];

/** The guide beside the screen: its part about what is there, or the page that the address names. */
export function Guide() {
  const [params, change] = useAddress();
  const { pathname } = useLocation();
  const at = params.get(GUIDE) ?? "";
  const [page = "", part = ""] = at === BESIDE ? [] : at.split(".");
  const asked = page ? { page, part } : { screen: pathname };
  const found = useQuery({
    queryKey: key("guide", asked),
    queryFn: () => answer(api.GET("/api/guide", { params: { query: asked } })),
    retry: false,
  });
  const beside = useRef<HTMLElement>(null);
  // Whoever opened it reads on there, and is back where they were when it closes.
  useEffect(() => {
    const before = document.activeElement;
    beside.current?.focus();
    return () => {
      if (before instanceof HTMLElement && document.activeElement === document.body) before.focus();
    };
  }, []);
  return (
    <aside
      ref={beside}
      className={styles.guide}
      aria-label="Guide"
      tabIndex={-1}
      onKeyDown={(e) => e.key === "Escape" && change({ [GUIDE]: null })}
    >
      <button type="button" className={styles.close} onClick={() => change({ [GUIDE]: null })}>
        Close the guide
      </button>
      {found.isError && <Refusal error={found.error} />}
      {!found.data && !found.isError && <Waiting what="the guide" />}
      {found.data && <Told page={found.data} />}
    </aside>
  );
}

function Told({ page }: { page: Page }) {
  const begin = useRef<HTMLElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another page or part begins there
  useEffect(() => begin.current?.scrollIntoView({ block: "start" }), [page.id, page.part]);
  return (
    <>
      {page.parts.map((p, n) => (
        <section key={p.id} ref={p.id === page.part && n > 0 ? begin : undefined} aria-label={p.title}>
          {n === 0 && p.title !== page.title && <h2>{page.title}</h2>}
          {n === 0 && p.title === page.title ? <h2>{p.title}</h2> : <h3>{p.title}</h3>}
          <Markdown
            components={{ a: (given) => <Leading to={given.href ?? ""} words={page.words} text={given.children} /> }}
          >
            {p.text}
          </Markdown>
        </section>
      ))}
      <nav className={styles.pages} aria-label="Pages of the guide">
        {page.pages.map((p) => (
          <ToPage key={p.id} page={p.id} now={p.id === page.id}>
            {p.name}
          </ToPage>
        ))}
      </nav>
    </>
  );
}

function Leading({ to, words, text }: { to: string; words: Page["words"]; text: React.ReactNode }) {
  const word = words.find((w) => to === `#word-${w.id}`);
  if (word) {
    return (
      <Tooltip
        title={`${word.word}: ${word.meaning}`}
        describeChild
        slotProps={{ tooltip: { className: styles.meaning }, popper: { disablePortal: true } }}
      >
        <button type="button" className={styles.word}>
          {text}
        </button>
      </Tooltip>
    );
  }
  return to.startsWith("#page-") ? <ToPage page={to.slice("#page-".length)}>{text}</ToPage> : text;
}

function ToPage({ page, now = false, children }: { page: string; now?: boolean; children: React.ReactNode }) {
  const [params] = useAddress();
  const next = new URLSearchParams(params);
  next.set(GUIDE, page);
  return (
    <Link to={{ search: next.toString() }} aria-current={now ? "page" : undefined}>
      {children}
    </Link>
  );
}
