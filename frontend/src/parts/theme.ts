type Theme = "light" | "dark";

/** The theme chosen before, else the machine's. */
export function storedTheme(): Theme {
  const stored = localStorage.getItem("pondus-theme");
  if (stored === "light" || stored === "dark") return stored;
  return window.matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light";
}

export function applyTheme(theme: Theme): void {
  document.documentElement.dataset["theme"] = theme;
}

export function chooseTheme(theme: Theme): void {
  localStorage.setItem("pondus-theme", theme);
  applyTheme(theme);
}
