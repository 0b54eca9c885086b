import { FIELD } from "../../parts/field";

interface FieldProps {
  label: string;
  type: "text" | "password";
  autoComplete: string;
  value: string;
  onChange: (value: string) => void;
}

/** A name or a passphrase. */
export function Field({ label, type, autoComplete, value, onChange }: FieldProps) {
  return (
    <label className="flex min-w-44 flex-1 flex-col text-sm font-bold text-pencil">
      {label}
      <input
        type={type}
        autoComplete={autoComplete}
        className={`${FIELD} text-base font-normal text-ink`}
        value={value}
        onChange={(event) => {
          onChange(event.target.value);
        }}
      />
    </label>
  );
}
