import type { ReactNode } from "react";
import { useEffect } from "react";

import { beginChanges } from "../../api/changes";
import { forgetSeen, useMe } from "../../api/device";
import { tellZone } from "../../api/zone";
import { Coming } from "../Coming";
import { ComeIn } from "./ComeIn";

let begun = false;

/** What begins once someone is known to be in: being told of changes, telling where the studio is. */
function begin(tellsZone: boolean): void {
  if (begun) return;
  begun = true;
  beginChanges();
  if (tellsZone) tellZone();
}

/** Everything behind it is for whoever is in; strangers find the ways in. */
export function Door({ children }: { children: ReactNode }) {
  const me = useMe();
  const isIn = me.data !== undefined && me.data.role !== null;
  const isOut = me.data?.role === null;
  const tellsZone = me.data?.can.includes("keep-settings") === true;
  useEffect(() => {
    if (isIn) begin(tellsZone);
    // Whoever was in before, and was ended, leaves nothing behind but what waits to be sent.
    if (isOut) void forgetSeen();
  }, [isIn, isOut, tellsZone]);
  if (me.data === undefined) return <Coming />;
  const joins = window.location.pathname === "/join" && window.location.hash.length > 1;
  if (isOut || joins) return <ComeIn me={me.data} code={joins ? window.location.hash.slice(1) : null} />;
  return children;
}
