import "@fontsource/atkinson-hyperlegible/400.css";
import "@fontsource/atkinson-hyperlegible/700.css";
import "./app.css";

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes } from "react-router";

import { Away } from "./api/client";
import { applyTheme, storedTheme } from "./parts/theme";
import { BenchScreen } from "./screens/bench/BenchScreen";
import { ChooseScreen } from "./screens/choose/ChooseScreen";
import { FifthsScreen } from "./screens/fifths/FifthsScreen";
import { MorningScreen } from "./screens/morning/MorningScreen";

applyTheme(storedTheme());
const queries = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (count, error) => error instanceof Away && count < 20,
      retryDelay: 1500,
      staleTime: 5000,
    },
  },
});
const root = document.getElementById("root");
if (root === null) throw new Error("the page has no #root");
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <Routes>
          <Route path="/" element={<ChooseScreen />} />
          <Route path="/bench/:instrumentId" element={<BenchScreen />} />
          <Route path="/morning" element={<MorningScreen />} />
          <Route path="/fifths/:instrumentId" element={<FifthsScreen />} />
          <Route path="*" element={<ChooseScreen />} />
        </Routes>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
