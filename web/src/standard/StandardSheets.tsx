import { useNavigate } from "react-router";
import { useBundleSide } from "../comparing/useComparing";
import { Sheets } from "../shared/Sheets";
import type { Through } from "./useStandard";

/** The standard and what is found of it as sheets, and a sheet of it held against it: what differs is chosen there. */
export function StandardSheets({ through }: { through: Through }) {
  const { setup, everywhere, layout, department } = through;
  const query = { setup, everywhere, layout, department };
  const navigate = useNavigate();
  const bring = useBundleSide();
  const hold = (file: File) =>
    bring.mutate(file, {
      onSuccess: ({ text }) => {
        const sides = new URLSearchParams({ left: "standard/standard", right: text });
        navigate({ pathname: "/profiles/compare", search: sides.toString() });
      },
    });
  return (
    <Sheets
      sheets={[
        { name: "Tasks by programs", path: "/api/standard", query },
        { name: "How far they follow it", path: "/api/coverage", query },
        { name: "The standard itself", path: "/api/standard/lines", query: { setup } },
      ]}
      back={{ says: "Hold a sheet against it", onFile: hold }}
    />
  );
}
