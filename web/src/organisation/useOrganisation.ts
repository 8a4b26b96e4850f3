import { keepPreviousData, useQueries, useQuery } from "@tanstack/react-query";
import { useDeferredValue } from "react";
import type { Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { key } from "../api/keys";
import { useDone } from "../shared/useDone";

export type Organisation = Schemas["OrganisationOut"];
export type Row = Schemas["RowOut"];
export type Section = "people" | "machines";
export type Wanted = Required<Schemas["Wanted"]>;
export type ItemChange = Schemas["ItemIn"];
export type Bulk = Schemas["BulkIn"];
export type Plan = Schemas["OrganisationPlanOut"];

export const EVERYTHING: Wanted = {
  words: "",
  department: "",
  role: "",
  kit: "",
  profile: "",
  setup: "",
  platform: "",
  retired: false,
};
const PAGE = 200;
const NEAR = 40;

export function useOrganisation() {
  return useQuery({ queryKey: key("organisation"), queryFn: () => answer(api.GET("/api/organisation")) });
}

export interface Order {
  by: string;
  down: boolean;
}

export interface Table {
  total: number | null;
  error: unknown;
  again: () => void;
  row: (index: number) => Row | undefined;
}

/** The rows that are wanted, fetched page by page as they come into sight. */
export function useTable(section: Section, wanted: Wanted, order: Order, first: number, last: number): Table {
  const pages: number[] = [];
  for (let page = Math.floor(first / PAGE); page <= Math.floor(Math.max(first, last) / PAGE); page++) pages.push(page);
  const found = useQueries({
    queries: pages.map((page) => ({
      queryKey: key("organisation", "table", section, wanted, order, page),
      queryFn: () =>
        answer(
          api.GET("/api/organisation/table/{section}", {
            params: {
              path: { section },
              query: { ...wanted, sort: order.by, down: order.down, start: page * PAGE, count: PAGE },
            },
          }),
        ),
      placeholderData: keepPreviousData,
    })),
  });
  const broken = found.find((p) => p.isError);
  return {
    total: found.find((p) => p.data)?.data?.total ?? null,
    error: broken?.error ?? null,
    again: () => found.forEach((p) => void p.refetch()),
    row: (index) => {
      const page = found[pages.indexOf(Math.floor(index / PAGE))];
      return page?.data?.rows[index - page.data.start];
    },
  };
}

/** The first rows by name that have some words. */
export function useNear(section: Section, words: string, enabled = true): Row[] {
  const wanted = { ...EVERYTHING, words: useDeferredValue(words) };
  const found = useQuery({
    queryKey: key("organisation", "table", section, wanted, "near"),
    queryFn: () =>
      answer(
        api.GET("/api/organisation/table/{section}", {
          params: { path: { section }, query: { ...wanted, sort: "name", down: false, start: 0, count: NEAR } },
        }),
      ),
    placeholderData: keepPreviousData,
    enabled,
  });
  return found.data?.rows ?? [];
}

/** What a change of some items would do, asked anew with every change of the form. */
export function usePlan(items: ItemChange[]) {
  return useQuery({
    queryKey: key("plan", "organisation", items),
    queryFn: () => answer(api.POST("/api/organisation/plan", { body: { title: "", items } })),
    enabled: items.length > 0,
    retry: false,
  });
}

export function useChangeItems() {
  return useDone((given: { title: string; items: ItemChange[] }) =>
    answer(api.POST("/api/organisation/change", { body: given })),
  );
}

export function useBulkPlan(given: Bulk, enabled: boolean) {
  return useQuery({
    queryKey: key("plan", "bulk", given),
    queryFn: () => answer(api.POST("/api/organisation/bulk/plan", { body: given })),
    enabled,
    retry: false,
  });
}

export function useBulk() {
  return useDone((given: Bulk) => answer(api.POST("/api/organisation/bulk", { body: given })));
}

export function useSetups() {
  return useQuery({
    queryKey: key("organisation", "setups"),
    queryFn: () => answer(api.GET("/api/organisation/setups")),
  });
}

export function useEffective(person: string, setup: string, machine: string) {
  return useQuery({
    queryKey: key("organisation", "effective", person, setup, machine),
    queryFn: () => answer(api.GET("/api/organisation/effective", { params: { query: { person, setup, machine } } })),
    retry: false,
    placeholderData: keepPreviousData,
  });
}

export function useWithout(setup: string, layer: string | null) {
  return useQuery({
    queryKey: key("organisation", "without", setup, layer),
    queryFn: () => answer(api.GET("/api/organisation/without", { params: { query: { setup, layer: layer ?? "" } } })),
    enabled: layer !== null,
    retry: false,
  });
}
