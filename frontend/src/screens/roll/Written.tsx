import { useState } from "react";

import { FIELD } from "../../parts/field";

/** A field that is kept when it is left, or on Enter. */
export function Written({ label, value, onSet }: { label: string; value: string; onSet: (text: string) => void }) {
  const [text, setText] = useState<string | null>(null);
  const keep = () => {
    if (text !== null && text !== value) onSet(text);
    setText(null);
  };
  return (
    <label className="flex flex-col text-sm font-bold text-pencil">
      {label}
      <input
        className={`${FIELD} font-normal text-ink`}
        value={text ?? value}
        onChange={(event) => {
          setText(event.target.value);
        }}
        onBlur={keep}
        onKeyDown={(event) => {
          if (event.key === "Enter") keep();
        }}
      />
    </label>
  );
}
