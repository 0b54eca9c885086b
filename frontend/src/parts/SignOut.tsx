import { useState } from "react";

import { useMe, useSignOut } from "../api/device";
import { useOutbox } from "../api/outbox/benchOutbox";
import { MORE_ENTRY } from "./More";

/** Who is signed in here, and the way out; what isn't sent yet is spoken of first. */
export function SignOut() {
  const me = useMe().data;
  const signOut = useSignOut();
  const unsent = useOutbox().length;
  const [warned, setWarned] = useState(false);
  if (me?.signed_in !== true) return null;
  const waits = unsent > 0 && warned;
  return (
    <button
      type="button"
      className={MORE_ENTRY}
      onClick={(event) => {
        if (unsent > 0 && !warned) {
          event.stopPropagation(); // the panel stays open for the second press
          setWarned(true);
        } else signOut.mutate();
      }}
    >
      {waits
        ? `${unsent === 1 ? "1 entry isn’t" : `${String(unsent)} entries aren’t`} sent yet and will wait here. Sign out all the same`
        : `Sign out ${me.name}`}
    </button>
  );
}
