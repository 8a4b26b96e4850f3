import createCache from "@emotion/cache";
import { CacheProvider } from "@emotion/react";
import { ThemeProvider } from "@mui/material/styles";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { ProblemError } from "./api/client";
import { App } from "./shell/App";
import "./shared/base.css";
import { SaysProvider } from "./shared/Says";
import { theme } from "./shared/theme";
import { SearchNow } from "./shared/useAddress";

const nonce = document.querySelector<HTMLMetaElement>('meta[name="style-nonce"]')?.content;
const styles = createCache({ key: "ak", nonce });
const queries = new QueryClient({
  defaultOptions: {
    queries: {
      // A refusal stays one; only an unreachable server is worth another try.
      retry: (count, error) => count < 2 && error instanceof ProblemError && error.problem.status === 0,
      staleTime: 5_000,
    },
  },
});

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <CacheProvider value={styles}>
        <ThemeProvider theme={theme} defaultMode="system">
          <QueryClientProvider client={queries}>
            <SaysProvider>
              <BrowserRouter>
                <SearchNow value={() => window.location.search}>
                  <App />
                </SearchNow>
              </BrowserRouter>
            </SaysProvider>
          </QueryClientProvider>
        </ThemeProvider>
      </CacheProvider>
    </StrictMode>,
  );
}
