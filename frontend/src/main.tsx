import "@fontsource/atkinson-hyperlegible/400.css";
import "@fontsource/atkinson-hyperlegible/700.css";
import "./app.css";

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes } from "react-router";

import { Away } from "./api/client";
import { applyTheme, storedTheme } from "./parts/theme";
import { BenchScreen } from "./screens/bench/BenchScreen";
import { CareScreen } from "./screens/care/CareScreen";
import { BringScreen } from "./screens/bring/BringScreen";
import { FirstScreen } from "./screens/FirstScreen";
import { FifthsScreen } from "./screens/fifths/FifthsScreen";
import { MorningScreen } from "./screens/morning/MorningScreen";
import { RollScreen } from "./screens/roll/RollScreen";
import { SweepScreen } from "./screens/sweep/SweepScreen";

// Its charts are most of the program; nobody waits for them before the first reading.
const LedgerScreen = lazy(async () => ({
  default: (await import("./screens/ledger/LedgerScreen")).LedgerScreen,
}));

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
        <Suspense fallback={null}>
          <Routes>
            <Route path="/" element={<FirstScreen />} />
            <Route path="/roll" element={<RollScreen />} />
            <Route path="/sweep" element={<SweepScreen />} />
            <Route path="/ledger/:instrumentId" element={<LedgerScreen />} />
            <Route path="/care" element={<CareScreen />} />
            <Route path="/bring" element={<BringScreen />} />
            <Route path="/bench/:instrumentId" element={<BenchScreen />} />
            <Route path="/morning" element={<MorningScreen />} />
            <Route path="/fifths/:instrumentId" element={<FifthsScreen />} />
            <Route path="*" element={<FirstScreen />} />
          </Routes>
        </Suspense>
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
