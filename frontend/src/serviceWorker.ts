import { Workbox } from "workbox-window";

/** Keep the page itself in the browser, so that it opens without network; where that can't be, it is fetched as ever. */
export function keepPage(): void {
  if (!("serviceWorker" in navigator) || !import.meta.env.PROD) return;
  window.addEventListener("load", () => {
    new Workbox("/sw.js").register().catch(() => undefined);
  });
}
