import createCache from "@emotion/cache";
import { CacheProvider } from "@emotion/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { RouterProvider } from "react-router/dom";
import { isPassing } from "./api/client";
import { router } from "./pages";
import { ColourMode } from "./ui/ColourMode";

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;
const styles = createCache({ key: "g", nonce, prepend: true });

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      retry: (count, error) => isPassing(error) && count < 20,
      retryDelay: 1_500,
    },
  },
});

/** By then the first page is there. */
const FIRST_PAGE_MILLIS = 3_000;

/** What most go to next is fetched while nothing else is to be done, so that the first click finds it there. */
const later = window.requestIdleCallback ?? ((then: () => void) => setTimeout(then));
setTimeout(() => later(() => void import("./features/history/HistoryPage"), { timeout: 10_000 }), FIRST_PAGE_MILLIS);

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <CacheProvider value={styles}>
        <QueryClientProvider client={queries}>
          <ColourMode>
            <RouterProvider router={router} />
          </ColourMode>
        </QueryClientProvider>
      </CacheProvider>
    </StrictMode>,
  );
}
