import { useColorScheme } from "@mui/material/styles";
import useMediaQuery from "@mui/material/useMediaQuery";
import { useEffect } from "react";
import { useKept } from "./useKept";

type Look = "paper" | "ink" | "contrast";
const NEXT: Record<Look, Look> = { paper: "ink", ink: "contrast", contrast: "paper" };

/** How Amber Key looks here, and a way to the next look. Who asks the system for more contrast gets it until they choose. */
export function useTheme(): [Look, () => void] {
  const { setMode, setColorScheme } = useColorScheme();
  const wantsDark = useMediaQuery("(prefers-color-scheme: dark)", { noSsr: true });
  const wantsContrast = useMediaQuery("(prefers-contrast: more)", { noSsr: true });
  const [kept, keep] = useKept("look", "");
  const asked: Look = wantsContrast ? "contrast" : wantsDark ? "ink" : "paper";
  const look = kept in NEXT ? (kept as Look) : asked;
  useEffect(() => {
    if (look === "contrast") {
      setColorScheme({ light: "contrast", dark: "contrast" });
    } else {
      setColorScheme({ light: "light", dark: "dark" });
      setMode(look === "ink" ? "dark" : "light");
    }
  }, [look, setMode, setColorScheme]);
  return [look, () => keep(NEXT[look])];
}
