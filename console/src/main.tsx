import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { setNonce } from "get-nonce";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { Refused } from "./api/http";
import { App } from "./app";
import { applyTheme } from "./parts/settings";
import { SaidProvider } from "./parts/said";
import "./styles.css";

// What keeps the page from scrolling behind a window is a style element; the page's policy takes it by this word alone.
const nonce = document.querySelector('meta[name="nonce"]')?.getAttribute("content");
if (nonce) setNonce(nonce);
applyTheme();

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 15_000,
      refetchOnWindowFocus: true,
      retry: (failures, error) =>
        failures < 3 && error instanceof Refused && (error.status === 0 || error.status === 503),
      retryDelay: (failures) => Math.min(8_000, 500 * 2 ** failures),
      networkMode: "always",
    },
    mutations: { networkMode: "always" },
  },
});

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={client}>
        <SaidProvider>
          <BrowserRouter basename="/console">
            <App />
          </BrowserRouter>
        </SaidProvider>
      </QueryClientProvider>
    </StrictMode>,
  );
}
