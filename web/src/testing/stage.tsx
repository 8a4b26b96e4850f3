import createCache from "@emotion/cache";
import { CacheProvider } from "@emotion/react";
import { ThemeProvider } from "@mui/material/styles";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render } from "@testing-library/react";
import type { ReactNode } from "react";
import { MemoryRouter } from "react-router";
import { vi } from "vitest";
import type { Schemas } from "../api/client";
import { StripProvider } from "../keyboard/strip";
import { SaysProvider } from "../shared/Says";
import { theme } from "../shared/theme";

/** What the played server answers: `"POST /api/press": body`, `[status, body]` for a refusal, or what makes one of the address. */
export type Answers = Record<string, unknown>;

export interface Sent {
  method: string;
  path: string;
  body: unknown;
}

/** A change that is worth nothing that could be told. */
export const NO_WORTH: Schemas["WorthOut"] = { says: [], weighed: [] };

/** Puts a part of the application on a stage with a played server; returns what was sent to it. */
export function stage(part: ReactNode, answers: Answers, address = "/"): Sent[] {
  const sent: Sent[] = [];
  // jsdom lays nothing out, so it has nothing to scroll.
  Element.prototype.scrollIntoView = () => undefined;
  Element.prototype.scrollTo = () => undefined;
  // Lists that draw what is in sight take the stage to be this large.
  for (const [name, value] of [
    ["clientWidth", 1100],
    ["clientHeight", 600],
  ] as const) {
    Object.defineProperty(HTMLElement.prototype, name, { configurable: true, value });
  }
  vi.stubGlobal("fetch", async (asked: Request | string, init?: RequestInit) => {
    const request = asked instanceof Request ? asked : new Request(new URL(asked, window.location.origin), init);
    const path = new URL(request.url).pathname;
    const json = request.headers.get("Content-Type")?.includes("json");
    sent.push({ method: request.method, path, body: json ? await request.json() : null });
    const played = answers[`${request.method} ${path}`];
    // A promise is an answer that takes its time.
    const found = await (typeof played === "function" ? played(new URL(request.url)) : played);
    const [status, body] =
      Array.isArray(found) && typeof found[0] === "number" ? found : [found === undefined ? 404 : 200, found];
    return new Response(JSON.stringify(body ?? { title: `Nothing at ${path}`, status: 404 }), {
      status,
      headers: { "Content-Type": "application/json" },
    });
  });
  render(
    <CacheProvider value={createCache({ key: "stage", container: document.createElement("div") })}>
      <ThemeProvider theme={theme}>
        <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
          <SaysProvider>
            <MemoryRouter initialEntries={[address]}>
              <StripProvider>{part}</StripProvider>
            </MemoryRouter>
          </SaysProvider>
        </QueryClientProvider>
      </ThemeProvider>
    </CacheProvider>,
  );
  return sent;
}

export function session(role: "reader" | "editor" | "releaser" | "administrator"): Answers {
  const rank = ["reader", "editor", "releaser", "administrator"].indexOf(role);
  const me = {
    signs_in_as: "ines",
    name: "Ines",
    role,
    may_edit: rank > 0,
    may_release: rank > 1,
    may_administer: rank > 2,
  };
  return { "GET /api/session": { me, csrf: "" } };
}

export function shortcut(text: string): Schemas["ShortcutOut"] {
  return { text, words: text.replaceAll("+", " "), caps: [text.split("+")] };
}

export function lens(parts: Partial<Schemas["LensOut"]> = {}): Schemas["LensOut"] {
  const scopes = [{ id: "sheet", name: "Sheet", takes_text: true }];
  return {
    setup: "counters",
    name: "Ticket counters",
    short: "Ticket counters",
    place: "at the counters",
    platform: "windows",
    system: "Windows",
    layout: "de",
    layout_name: "German",
    body_name: "ISO",
    language: "de",
    people: 31,
    machines: 22,
    layers: ["House"],
    unknown: [],
    layer_ids: ["house"],
    focuses: [{ program: "quaysheet", name: "Quaysheet", scopes }],
    ...parts,
  };
}
