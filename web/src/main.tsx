import "@fontsource-variable/archivo/wdth.css";
import createCache from "@emotion/cache";
import { CacheProvider } from "@emotion/react";
import { CssBaseline, ThemeProvider } from "@mui/material";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App } from "./App";
import { theme } from "./look";

const nonce = document.querySelector<HTMLMetaElement>('meta[name="style-nonce"]')?.content;
const styles = createCache({ key: "kt", nonce });
const queries = new QueryClient({
  defaultOptions: {
    // Offline, a question fails and says so; it does not wait for ever.
    queries: { retry: 1, staleTime: 15_000, refetchOnWindowFocus: false, networkMode: "always" },
    mutations: { networkMode: "always" },
  },
});

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <CacheProvider value={styles}>
        <ThemeProvider theme={theme}>
          <CssBaseline />
          <QueryClientProvider client={queries}>
            <App />
          </QueryClientProvider>
        </ThemeProvider>
      </CacheProvider>
    </StrictMode>,
  );
}
