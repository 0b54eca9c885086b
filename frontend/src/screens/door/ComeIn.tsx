import { useState } from "react";

import type { Me } from "../../api/device";
import { useJoin, useSignIn } from "../../api/device";
import { useOutbox } from "../../api/outbox/benchOutbox";
import { Button } from "../../parts/Button";
import { FIELD } from "../../parts/field";
import { Trouble } from "../../parts/Trouble";

/** The ways in: a code that a teacher showed, or a teacher's passphrase. */
export function ComeIn({ me, code }: { me: Me; code: string | null }) {
  return (
    <div className="mx-auto flex min-h-screen max-w-xl flex-col gap-5 px-4 py-8 text-lg">
      <p className="flex items-center gap-2 text-xl font-bold">
        <img src="/mark.svg" alt="" className="size-8 rounded-sm bg-[#f4efe4]" /> Pondus
      </p>
      <main id="content" tabIndex={-1} className="flex flex-col gap-5 outline-none">
        <Waiting />
        {code === null ? <WithPassphrase me={me} /> : <WithCode me={me} code={code} />}
      </main>
    </div>
  );
}

function WithCode({ me, code }: { me: Me; code: string }) {
  const join = useJoin();
  return (
    <>
      <h1 className="text-3xl font-bold">Come in with this code</h1>
      <p>
        A teacher let this device in. The code holds once, for ten minutes.
        {me.role !== null && me.signed_in && ` ${me.name} is signed in here now, and will be signed out.`}
      </p>
      <Button
        look="main"
        className="min-h-14 self-start text-xl"
        disabled={join.isPending}
        onClick={() => {
          join.mutate(code);
        }}
      >
        Come in
      </Button>
      <Trouble error={join.error} />
      {join.error !== null && (
        <a href="/" className="font-bold underline underline-offset-4">
          Another way in
        </a>
      )}
    </>
  );
}

function WithPassphrase({ me }: { me: Me }) {
  const signIn = useSignIn();
  const [name, setName] = useState("");
  const [passphrase, setPassphrase] = useState("");
  return (
    <>
      <h1 className="text-3xl font-bold">Who is it?</h1>
      <section className="rounded-lg border border-rule bg-sheet p-4">
        <h2 className="text-xl font-bold">Helpers and students</h2>
        <p>
          A teacher lets you in: on their screen under <i>Devices</i> they make a code for you. Point this device’s camera at
          it.
        </p>
      </section>
      <form
        className="flex flex-col gap-3 rounded-lg border border-rule bg-sheet p-4"
        onSubmit={(event) => {
          event.preventDefault();
          signIn.mutate({ name, passphrase });
        }}
      >
        <h2 className="text-xl font-bold">Teachers</h2>
        {!me.has_teacher && <p>No teacher has a passphrase yet. One is set on the studio’s own computer, under Devices.</p>}
        <label className="flex flex-col font-bold">
          Name
          <input
            className={`${FIELD} font-normal`}
            autoComplete="username"
            value={name}
            onChange={(event) => {
              setName(event.target.value);
            }}
          />
        </label>
        <label className="flex flex-col font-bold">
          Passphrase
          <input
            className={`${FIELD} font-normal`}
            type="password"
            autoComplete="current-password"
            value={passphrase}
            onChange={(event) => {
              setPassphrase(event.target.value);
            }}
          />
        </label>
        <Button
          type="submit"
          look="main"
          className="self-start"
          disabled={signIn.isPending || name.trim() === "" || passphrase === ""}
        >
          Sign in
        </Button>
        <Trouble error={signIn.error} />
      </form>
    </>
  );
}

/** What was entered on this device before its session ended is not lost. */
function Waiting() {
  const waiting = useOutbox().length;
  if (waiting === 0) return null;
  return (
    <p role="status" className="rounded-md border-2 border-ink bg-lit px-3 py-2">
      <b>{waiting === 1 ? "1 entry waits" : `${String(waiting)} entries wait`} on this device.</b> Sign in, and they are sent by
      themselves.
    </p>
  );
}
