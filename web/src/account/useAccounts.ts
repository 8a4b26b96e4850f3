import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { useSays } from "../shared/Says";

export type Account = Schemas["AccountOut"];
export type RoleName = Account["role"];
export const ROLES: { id: RoleName; name: string; may: string }[] = [
  { id: "reader", name: "Reader", may: "looks" },
  { id: "editor", name: "Editor", may: "decides and edits" },
  { id: "releaser", name: "Releaser", may: "decides, releases, writes to machines" },
  { id: "administrator", name: "Administrator", may: "all that, and looks after accounts" },
];

export function useAccounts() {
  return useQuery({ queryKey: key("accounts"), queryFn: () => answer(api.GET("/api/accounts")) });
}

export function useOwnSessions() {
  return useQuery({ queryKey: key("accounts", "own"), queryFn: () => answer(api.GET("/api/session/open")) });
}

/** A request about accounts: what is listed is asked for again, then what was done is said. */
function useAbout<Body, Answer>(
  send: (body: Body) => Promise<Answer>,
  told: (done: Answer, body: Body) => string,
  back?: (body: Body) => (() => void) | undefined,
) {
  const queries = useQueryClient();
  const says = useSays();
  return useMutation({
    mutationFn: send,
    onSuccess: async (done, body) => {
      await queries.invalidateQueries({ queryKey: key("accounts") });
      await queries.invalidateQueries({ queryKey: key("audit") });
      await queries.invalidateQueries({ queryKey: key("session") }); // it may have been one's own
      says.done(told(done, body), back?.(body));
    },
    onError: says.refused,
  });
}

export function useAddAccount() {
  return useAbout(
    (body: Schemas["AccountIn"]) => answer(api.POST("/api/accounts", { body })),
    (done) => `${done.account.name} may sign in, once a password is set by the link.`,
  );
}

type Change = { account: Account } & Schemas["AccountChangeIn"];

export function useChangeAccount() {
  const change: ReturnType<typeof useAbout<Change, Account>> = useAbout(
    ({ account, ...body }: Change) =>
      answer(api.PUT("/api/accounts/{account_id}", { params: { path: { account_id: account.id } }, body })),
    (done) => (done.active ? `${done.name}: ${done.role}.` : `${done.name} may not sign in any more.`),
    ({ account }) =>
      () =>
        change.mutate({ account, role: account.role, active: account.active, name: account.name }),
  );
  return change;
}

export function useMakeLink() {
  return useAbout(
    (account: Account) =>
      answer(api.POST("/api/accounts/{account_id}/link", { params: { path: { account_id: account.id } } })),
    (_, account) => `A new link for ${account.name}; earlier ones don't work any more.`,
  );
}

export function useEndSessions() {
  return useAbout(
    (account: Account) =>
      answer(api.POST("/api/accounts/{account_id}/sessions/end", { params: { path: { account_id: account.id } } })),
    (done, account) => `Ended ${done.ended} of the sessions of ${account.name}.`,
  );
}

export function useEndOthers() {
  return useAbout(
    () => answer(api.POST("/api/session/others/end")),
    (done) => `Ended ${done.ended} other ${done.ended === 1 ? "session" : "sessions"} of yours.`,
  );
}

export function useChangePassword() {
  return useAbout(
    (body: Schemas["PasswordIn"]) => answer(api.PUT("/api/session/password", { body })),
    () => "Your password is changed; your other sessions ended.",
  );
}

export interface Looked {
  who: string;
  did: string;
  words: string;
  since: string;
  until: string;
  page: number;
}

export const ANYTHING: Looked = { who: "", did: "", words: "", since: "", until: "", page: 1 };

/** What is asked for, without what is left empty. */
export function askedOf(looked: Looked): Record<string, string> {
  return Object.fromEntries(
    Object.entries(looked)
      .filter(([, value]) => value !== "")
      .map(([name, value]) => [name, String(value)]),
  );
}

export function useAudit(looked: Looked) {
  return useQuery({
    queryKey: key("audit", looked),
    queryFn: () => answer(api.GET("/api/audit", { params: { query: askedOf(looked) } })),
    placeholderData: (before) => before,
  });
}
