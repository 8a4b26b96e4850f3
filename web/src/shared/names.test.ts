import { expect, test } from "vitest";
import { namesFrom, namesText } from "./names";

test("names in other languages are read as they are written", () => {
  const names = { de: "Speichern", fr: "Enregistrer = garder" };
  expect(namesFrom(namesText(names))).toEqual(names);
  expect(namesFrom(" DE = Suchen ;; = nothing; fr = ; sv")).toEqual({ de: "Suchen" });
});
