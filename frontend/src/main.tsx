import "@fontsource/atkinson-hyperlegible/400.css";
import "@fontsource/atkinson-hyperlegible/700.css";
import "./app.css";

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, StrictMode, Suspense } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Route, Routes } from "react-router";

import { Away } from "./api/client";
import { tellZone } from "./api/zone";
import { applyTheme, storedTheme } from "./parts/theme";
import { FirstScreen } from "./screens/FirstScreen";

// Each screen comes when it is first looked at.
const BenchScreen = lazy(async () => ({
  default: (await import("./screens/bench/BenchScreen")).BenchScreen,
}));
const SweepScreen = lazy(async () => ({
  default: (await import("./screens/sweep/SweepScreen")).SweepScreen,
}));
const MorningScreen = lazy(async () => ({
  default: (await import("./screens/morning/MorningScreen")).MorningScreen,
}));
const LedgerScreen = lazy(async () => ({
  default: (await import("./screens/ledger/LedgerScreen")).LedgerScreen,
}));
const CareScreen = lazy(async () => ({ default: (await import("./screens/care/CareScreen")).CareScreen }));
const BringScreen = lazy(async () => ({
  default: (await import("./screens/bring/BringScreen")).BringScreen,
}));
const RollScreen = lazy(async () => ({ default: (await import("./screens/roll/RollScreen")).RollScreen }));
const FifthsScreen = lazy(async () => ({
  default: (await import("./screens/fifths/FifthsScreen")).FifthsScreen,
}));

tellZone();
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
