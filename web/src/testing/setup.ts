import { cleanup, configure } from "@testing-library/react";
import { afterEach, vi } from "vitest";

/** What holds for every file of tests: they share one document and the modules of the application, which load once. */

// How long a busy machine may take says nothing about the application.
configure({ asyncUtilTimeout: 20_000 });

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
  localStorage.clear();
  sessionStorage.clear();
});
