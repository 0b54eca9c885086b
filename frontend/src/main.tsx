import "@fontsource/atkinson-hyperlegible/400.css";
import "@fontsource/atkinson-hyperlegible/700.css";
import "./app.css";

import { QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";

import { beginChanges } from "./api/changes";
import { keepLastSeen, showLastSeen } from "./api/lastSeen";
import { beginOutbox } from "./api/outbox/benchOutbox";
import { queries } from "./api/queries";
import { tellZone } from "./api/zone";
import { applyTheme, storedTheme } from "./parts/theme";
import { Screens } from "./screens/Screens";
import { keepPage } from "./serviceWorker";

tellZone();
applyTheme(storedTheme());
beginOutbox();
beginChanges();
const root = document.getElementById("root");
if (root === null) throw new Error("the page has no #root");
const page = createRoot(root);
const show = () => {
  page.render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <Screens />
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  );
};
void showLastSeen().then(() => {
  keepLastSeen();
  show();
});
keepPage();
