const SOON_MS = 400;
const NEAR_PX = 24;
const PRESSED = "button, a, summary, label, [role=button], [role=option], [role=menuitem], [role=radio], [role=tab]";

interface Press {
  on: Element;
  said: string;
  at: number;
  x: number;
  y: number;
}

/** The second click of a double one is for what the first was on: where something else has moved there, or the same says something
 * else by now, nothing is pressed. */
export function keepDoubleClicks(): void {
  let before: Press | null = null;
  document.addEventListener(
    "click",
    (event) => {
      const on = event.target instanceof Element ? event.target.closest(PRESSED) : null;
      if (event.detail === 0) return;
      if (on === null) {
        before = null;
        return;
      }
      const now = { on, said: saidOf(on), at: event.timeStamp, x: event.clientX, y: event.clientY };
      // A mouse counts its clicks; not every finger is counted.
      const isSecond = event.detail > 1 || (isTouch(event) && before !== null && isSameGesture(before, now));
      if (before !== null && isSecond && (before.on !== on || before.said !== now.said)) {
        event.preventDefault();
        event.stopPropagation();
        return;
      }
      before = now;
    },
    true,
  );
}

function isTouch(event: MouseEvent): boolean {
  return event instanceof PointerEvent && event.pointerType === "touch";
}

function saidOf(on: Element): string {
  return on.getAttribute("aria-label") ?? on.textContent;
}

function isSameGesture(before: Press, now: Press): boolean {
  return now.at - before.at < SOON_MS && Math.hypot(now.x - before.x, now.y - before.y) < NEAR_PX;
}
