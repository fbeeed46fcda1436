import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { RouterProvider } from "react-router/dom";
import { ApiError } from "@/api/client";
import { applyTheme } from "@/kit/useTheme";
import { router } from "./router";
import "./styles.css";

applyTheme();

const queries = new QueryClient({
  defaultOptions: {
    // An unreachable server is told at once, not waited for in silence.
    mutations: { networkMode: "always" },
    queries: {
      networkMode: "always",
      staleTime: 2_000,
      // A "no" is final; only an unreachable server is asked again.
      retry: (count, error) => error instanceof ApiError && error.offline && count < 2,
    },
  },
});

const root = document.getElementById("root");
if (root !== null) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <RouterProvider router={router} />
      </QueryClientProvider>
    </StrictMode>,
  );
}
