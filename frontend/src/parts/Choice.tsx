import { Radio, RadioGroup } from "@headlessui/react";

interface ChoiceProps<T extends string | number> {
  /** The label stands in front of the choices, where there is room. */
  inline?: boolean;
  /** What stands there instead of the label, where that would be too long. */
  shown?: string;
  label: string;
  value: T;
  options: { value: T; said: string; why?: string }[];
  onChange: (value: T) => void;
}

/** One of a few, all visible. */
export function Choice<T extends string | number>({
  label,
  inline = false,
  shown = label,
  value,
  options,
  onChange,
}: ChoiceProps<T>) {
  return (
    <div className={inline ? "flex flex-wrap items-center gap-x-3 print:hidden" : "print:hidden"}>
      <div className="mb-1 text-sm font-bold text-pencil" aria-hidden>
        {shown}
      </div>
      <RadioGroup value={value} onChange={onChange} aria-label={label} className="flex flex-wrap gap-1.5">
        {options.map((option) => (
          <Radio
            key={option.value}
            value={option.value}
            title={option.why}
            className="flex min-h-11 cursor-pointer items-center rounded-md border border-ink/60 bg-paper px-3 text-ink forced-colors:data-checked:outline-3 data-checked:border-ink data-checked:bg-ink data-checked:text-paper data-focus:outline-3 data-focus:outline-below"
          >
            {option.said}
          </Radio>
        ))}
      </RadioGroup>
    </div>
  );
}
