import { useState } from "react";

import type { Person } from "../../api/people";
import { useAddPerson } from "../../api/people";
import { Button } from "../../parts/Button";
import { FIELD } from "../../parts/field";
import { Trouble } from "../../parts/Trouble";

const FIRST_STAGES = [1, 2];

/** Someone joins the roll. */
export function AddPerson() {
  const [name, setName] = useState("");
  const [role, setRole] = useState<Person["role"]>("player");
  const add = useAddPerson();
  return (
    <form
      className="mt-3 flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        const cleared = role === "player" ? FIRST_STAGES : [];
        add.mutate(
          { name, role, cleared, note: "" },
          {
            onSuccess: () => {
              setName("");
            },
          },
        );
      }}
    >
      <label className="flex min-w-36 flex-1 flex-col text-sm font-bold text-pencil">
        Name or initials
        <input
          className={`${FIELD} font-normal text-ink`}
          value={name}
          maxLength={80}
          onChange={(event) => {
            setName(event.target.value);
          }}
        />
      </label>
      <select
        aria-label="As"
        className={FIELD}
        value={role}
        onChange={(event) => {
          setRole(event.target.value as Person["role"]);
        }}
      >
        <option value="player">player</option>
        <option value="helper">helper</option>
        <option value="teacher">teacher</option>
      </select>
      <Button type="submit" disabled={name.trim() === "" || add.isPending}>
        Add
      </Button>
      <div className="w-full">
        <Trouble error={add.error} />
      </div>
    </form>
  );
}
