import { useState } from "react";

import type { Devices } from "../../api/device";
import { useInvite } from "../../api/device";
import { usePeople } from "../../api/people";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Choice";
import { FIELD } from "../../parts/field";
import { clockTime } from "../../parts/figures";
import { Trouble } from "../../parts/Trouble";
import { Field } from "./Field";

/** A code for one device of one person. */
export function LetIn({ roles }: { roles: Devices["roles"] }) {
  const [role, setRole] = useState(roles[0]?.value ?? "helper");
  const [person, setPerson] = useState("");
  const [passphrase, setPassphrase] = useState("");
  const as = roles.find((each) => each.value === role);
  const people = usePeople();
  const invite = useInvite();
  const theirs = (people.data?.people ?? []).filter((each) => each.role === as?.of_roll);
  const mayBeAnyone = as?.may_be_anyone === true;
  const chosen = theirs.some((each) => each.id === person) ? person : "";
  return (
    <section aria-label="Let a device in">
      <h2 className="mb-2 text-2xl font-bold">Let a device in</h2>
      <form
        className="flex flex-col items-start gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          const given = as?.asks_passphrase === true ? passphrase : null;
          invite.mutate({ role, person_id: chosen === "" ? null : chosen, name: "", passphrase: given });
          setPassphrase("");
        }}
      >
        <Choice
          label="Whose device"
          value={role}
          options={roles}
          onChange={(value) => {
            setRole(value);
            invite.reset();
          }}
        />
        <p className="text-pencil">{as?.why}</p>
        <div className="flex flex-wrap items-end gap-2">
          <label className="flex flex-col text-sm font-bold text-pencil">
            Who
            <select
              className={`${FIELD} min-w-56 text-base font-normal text-ink`}
              value={chosen}
              onChange={(event) => {
                setPerson(event.target.value);
                invite.reset();
              }}
            >
              <option value="" disabled={!mayBeAnyone}>
                {mayBeAnyone ? "someone who isn’t on the roll" : "Choose…"}
              </option>
              {theirs.map((each) => (
                <option key={each.id} value={each.id}>
                  {each.name}
                </option>
              ))}
            </select>
          </label>
          {as?.asks_passphrase === true && (
            <Field
              label="A teacher’s passphrase"
              type="password"
              autoComplete="current-password"
              value={passphrase}
              onChange={setPassphrase}
            />
          )}
          <Button type="submit" look="main" disabled={invite.isPending || (!mayBeAnyone && chosen === "")}>
            Show a code
          </Button>
        </div>
        <Trouble error={invite.error} />
      </form>
      {invite.data !== undefined && <Code key={invite.data.id} invitation={invite.data} />}
    </section>
  );
}

type Shown = NonNullable<ReturnType<typeof useInvite>["data"]>;

function Code({ invitation }: { invitation: Shown }) {
  const [which, setWhich] = useState(0);
  const link = invitation.links[which] ?? invitation.links[0];
  if (link === undefined) return null;
  return (
    <div className="mt-4 flex flex-wrap items-start gap-4 rounded-lg border-2 border-ink bg-sheet p-4">
      <img src={link.qr} alt="QR code of the address below" className="w-60 rounded-md bg-white" />
      <div className="flex min-w-56 flex-1 flex-col gap-2">
        <p className="text-lg">
          For <b>{invitation.name}</b>. Point the device’s camera at it, open the address, press <i>Come in</i>.
        </p>
        <p>It lets one device in, once, until {clockTime(invitation.ends_at)}.</p>
        <p className="text-sm break-all text-pencil select-all">{link.url}</p>
        {invitation.links.length > 1 && (
          <Button
            className="self-start"
            onClick={() => {
              setWhich((before) => (before + 1) % invitation.links.length);
            }}
          >
            {link.stays ? "The device doesn’t find it" : "Another address"}
          </Button>
        )}
      </div>
    </div>
  );
}
