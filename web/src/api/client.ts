import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];

/** A refusal as the server words it (RFC 9457): what happened, what is safe, what to do. */
export interface Problem {
  title: string;
  status: number;
  detail: string;
  cure: string;
  safe: string;
  text?: string;
  span?: [number, number];
  guess?: string | null;
  by?: string;
  at?: string;
  changes?: string[];
  faults?: { place: string; says: string; cure: string }[];
}

export class ProblemError extends Error {
  readonly problem: Problem;
  constructor(problem: Problem) {
    super(problem.title);
    this.problem = problem;
  }
}

function csrfToken(): string {
  return document.cookie.match(/(?:^|; )csrftoken=([^;]+)/)?.[1] ?? "";
}

export const api = createClient<paths>({ baseUrl: window.location.origin, fetch: (request) => fetch(request) });
api.use({
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", csrfToken());
    return request;
  },
});

function asProblem(value: unknown, status: number): Problem {
  if (typeof value === "object" && value !== null && "title" in value) return value as Problem;
  return {
    title: "The server gave no answer that can be read.",
    status,
    detail: "It may be starting, or out of reach.",
    cure: "Try again in a moment.",
    safe: "Nothing was changed.",
  };
}

/** The data of an answer; throws ProblemError with the server's words. */
export async function answer<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let result: { data?: T; error?: unknown; response: Response };
  try {
    result = await call;
  } catch {
    throw new ProblemError({ ...asProblem(null, 0), title: "The server can't be reached." });
  }
  if (result.error !== undefined || result.data === undefined) {
    throw new ProblemError(asProblem(result.error, result.response.status));
  }
  return result.data;
}

/** Sends a form (with a file); openapi-fetch types forms as JSON, so this one call goes past it. */
export async function sendForm<T>(path: string, form: FormData): Promise<T> {
  return (await (await sentForm(path, form)).json()) as T;
}

/** The same, for an answer that is a file. */
export async function sendFormForFile(path: string, form: FormData): Promise<Blob> {
  return (await sentForm(path, form)).blob();
}

async function sentForm(path: string, form: FormData): Promise<Response> {
  const response = await fetch(path, { method: "POST", body: form, headers: { "X-CSRFToken": csrfToken() } });
  if (!response.ok) throw new ProblemError(asProblem(await response.json().catch(() => null), response.status));
  return response;
}
