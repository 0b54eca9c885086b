import "@fontsource/atkinson-hyperlegible/400.css";
import "@fontsource/atkinson-hyperlegible/700.css";
import "./app.css";

import { QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";

import { onSignedOut } from "./api/connection";
import { askWhoIAm } from "./api/device";
import { keepLastSeen, showLastSeen } from "./api/lastSeen";
import { beginOutbox } from "./api/outbox/benchOutbox";
import { queries } from "./api/queries";
import { keepDoubleClicks } from "./parts/doubleClick";
import { applyTheme, storedTheme } from "./parts/theme";
import { Door } from "./screens/door/Door";
import { Screens } from "./screens/Screens";
import { keepPage } from "./serviceWorker";

applyTheme(storedTheme());
beginOutbox();
onSignedOut(askWhoIAm);
const root = document.getElementById("root");
if (root === null) throw new Error("the page has no #root");
const page = createRoot(root);
const show = () => {
  page.render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <Door>
            <Screens />
          </Door>
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
keepDoubleClicks();
