import { useQuery } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { answer, api } from "../../api/client";
import { key } from "../../api/keys";
import { useLens } from "../../shared/lens";
import { useDone } from "../../shared/useDone";
import { useSettled } from "../../shared/useSettled";

export type Held = Schemas["ContentsOut"];
export type Offering = Schemas["OfferingOut"];
export type Plan = Schemas["ArrangedPlanOut"];

/** What an item of a section shall be: `key` of the one that it is now, null for a new one; `item` null: it goes. */
export interface Wish {
  key: string | null;
  item: Record<string, unknown> | null;
}

/** The keyboard in whose words keys are shown: that of the lens. */
function useSetup(): string {
  return useLens()[0]?.setup.setup ?? "";
}

/** Everything that a profile holds beside the shortcuts of commands. */
export function useHeld(profile: string) {
  const setup = useSetup();
  return useQuery({
    queryKey: key("profiles", "held", profile, setup),
    queryFn: () =>
      answer(
        api.GET("/api/profiles/{profile_id}/held", {
          params: { path: { profile_id: profile }, query: { setup } },
        }),
      ),
    enabled: profile !== "",
  });
}

/** The menus of a program as a profile arranges them; nothing is asked for no program. */
export function useLevels(profile: string, program: string) {
  const setup = useSetup();
  return useQuery({
    queryKey: key("profiles", "levels", profile, program, setup),
    queryFn: () =>
      answer(
        api.GET("/api/profiles/{profile_id}/levels/{program}", {
          params: { path: { profile_id: profile, program }, query: { setup } },
        }),
      ),
    enabled: program !== "",
  });
}

export function useTravels(profile: string) {
  return useQuery({
    queryKey: key("profiles", "travels", profile),
    queryFn: () => answer(api.GET("/api/profiles/{profile_id}/travels", { params: { path: { profile_id: profile } } })),
  });
}

/** The programs, with what people can arrange in each. */
export function useOffers() {
  return useQuery({ queryKey: key("profiles", "offers"), queryFn: () => answer(api.GET("/api/profiles/offers")) });
}

/** What people can arrange in one program; nothing is asked for none. */
export function useOffering(program: string) {
  return useQuery({
    queryKey: key("profiles", "offers", program),
    queryFn: () => answer(api.GET("/api/profiles/offers/{program}", { params: { path: { program } } })),
    enabled: program !== "",
  });
}

/** What wishes would do, asked once they have stayed the same for a moment. */
export function useItemsPlan(profile: string, section: string, wishes: Wish[], about: string) {
  const setup = useSetup();
  const asked = useSettled(JSON.stringify({ section, items: wishes, about, setup }), 150);
  return useQuery({
    queryKey: key("plan", "items", profile, asked),
    queryFn: () =>
      answer(
        api.POST("/api/profiles/{profile_id}/items/plan", {
          params: { path: { profile_id: profile } },
          body: JSON.parse(asked),
        }),
      ),
    enabled: wishes.length > 0 && JSON.parse(asked).items.length > 0,
    placeholderData: (before) => before,
    retry: false,
  });
}

/** Saves wishes as one change, with its undo. */
export function useSaveItems(profile: string, section: string, onDone?: () => void) {
  return useDone(
    (items: Wish[]) =>
      answer(
        api.POST("/api/profiles/{profile_id}/items", {
          params: { path: { profile_id: profile } },
          body: { section, items, about: "", setup: "" },
        }),
      ),
    { onDone },
  );
}
