import { useQuery } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import { key } from "../api/keys";

/** The ways to begin a standard, and whether there is one already. */
export function useBeginnings() {
  return useQuery({
    queryKey: key("standard", "beginnings"),
    queryFn: () => answer(api.GET("/api/standard/beginnings")),
  });
}
