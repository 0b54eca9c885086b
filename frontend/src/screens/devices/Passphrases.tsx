import { useState } from "react";

import type { Devices } from "../../api/device";
import { useLock, useMe, useSetPassphrase } from "../../api/device";
import { Button } from "../../parts/Button";
import { Trouble } from "../../parts/Trouble";
import { Field } from "./Field";

/** Teachers' passphrases, and whether this computer asks for one (unless that is offered elsewhere on the page). */
export function Passphrases({ devices, offersLock }: { devices: Devices; offersLock: boolean }) {
  const me = useMe().data;
  const set = useSetPassphrase();
  const lock = useLock();
  const [name, setName] = useState(me?.name ?? "");
  const [current, setCurrent] = useState("");
  const [passphrase, setPassphrase] = useState("");
  const asksCurrent = devices.teachers.length > 0;
  const asksOwn = me?.signed_in === true && me.name !== null && devices.teachers.includes(me.name);
  return (
    <section aria-label="Passphrases" className="flex flex-col gap-3">
      <h2 className="text-2xl font-bold">Passphrases</h2>
      <p>
        {devices.teachers.length === 0
          ? "No teacher has one yet."
          : `${devices.teachers.join(", ")} ${devices.teachers.length === 1 ? "has" : "have"} one.`}{" "}
        A new one signs every device out.
      </p>
      <form
        className="flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          set.mutate(
            { name, current: asksCurrent ? current : null, passphrase },
            {
              onSuccess: () => {
                setCurrent("");
                setPassphrase("");
              },
            },
          );
        }}
      >
        <Field label="Teacher" type="text" autoComplete="username" value={name} onChange={setName} />
        {asksCurrent && (
          <Field
            label={asksOwn ? "Passphrase now" : "A teacher’s passphrase now"}
            type="password"
            autoComplete="current-password"
            value={current}
            onChange={setCurrent}
          />
        )}
        <Field label="New passphrase" type="password" autoComplete="new-password" value={passphrase} onChange={setPassphrase} />
        <Button type="submit" disabled={set.isPending || name.trim() === "" || passphrase === ""}>
          Set it
        </Button>
      </form>
      <Trouble error={set.error} />
      {set.isSuccess && <p role="status">The passphrase is set.</p>}
      <div className={offersLock ? "flex flex-wrap items-center gap-3" : "hidden"}>
        <p className="min-w-56 flex-1">
          {devices.locked
            ? "This computer is locked: whoever sits at it signs in, too."
            : "Whoever sits at this computer is in without signing in."}
        </p>
        <Button
          disabled={!devices.can_lock || lock.isPending}
          onClick={() => {
            lock.mutate(!devices.locked);
          }}
        >
          {devices.locked ? "Unlock this computer" : "Lock this computer"}
        </Button>
      </div>
      {!devices.can_lock && <p className="text-pencil">It can be locked once a teacher has a passphrase.</p>}
      <Trouble error={lock.error} />
    </section>
  );
}
