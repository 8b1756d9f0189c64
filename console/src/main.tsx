import createCache from "@emotion/cache";
import { CacheProvider } from "@emotion/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { App } from "./App";
import { Refused } from "./api/client";
import { ColourMode } from "./ui/ColourMode";

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;
const styles = createCache({ key: "g", nonce, prepend: true });

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      retry: (count, error) => (error instanceof Refused && error.status > 0 ? false : count < 20),
      retryDelay: 1_500,
    },
  },
});

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <CacheProvider value={styles}>
        <QueryClientProvider client={queries}>
          <ColourMode>
            <BrowserRouter>
              <App />
            </BrowserRouter>
          </ColourMode>
        </QueryClientProvider>
      </CacheProvider>
    </StrictMode>,
  );
}
