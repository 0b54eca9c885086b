import { Radio, RadioGroup } from "@headlessui/react";

import type { ChainLink, Fifths } from "../../api/fifths";
import { WidthGauge } from "./WidthGauge";

interface FifthChoiceProps {
  fifths: Fifths;
  chosen: string;
  onChoose: (lower: string) => void;
}

/** The three fifths under the picture, each between its strings: its width, its beats; one is looked at closely. */
export function FifthChoice({ fifths, chosen, onChoose }: FifthChoiceProps) {
  return (
    <RadioGroup
      value={chosen}
      onChange={onChoose}
      aria-label="Which fifth"
      className="mx-[6%] grid grid-cols-3 gap-2 sm:mx-[12.5%]"
    >
      {fifths.links.map((link) => (
        <Radio
          key={link.lower}
          value={link.lower}
          className="flex min-h-11 cursor-pointer flex-col items-center rounded-md border border-rule px-1 py-1.5 text-center data-checked:border-2 data-checked:border-ink data-checked:bg-lit data-focus:outline-3 data-focus:outline-below"
        >
          <b className="text-lg">
            {link.lower}–{link.upper}
          </b>
          <WidthGauge link={link} pure={fifths.pure_from_temperament_cents} tempered={fifths.tempered_from_temperament_cents} />
          <span className="leading-tight">{link.said}</span>
          <Beats link={link} />
        </Radio>
      ))}
    </RadioGroup>
  );
}

/** The beats in words, and a slow pulse at their true rate. */
function Beats({ link }: { link: ChainLink }) {
  const beats = link.beats_hz;
  if (beats === null) return null;
  const pulsing = beats > 0.05 && beats < 12;
  return (
    <span className="flex items-center gap-1.5 text-sm leading-tight text-pencil">
      <span
        aria-hidden
        data-testid={`pulse-${link.lower}`}
        className="size-3 shrink-0 rounded-full bg-ink"
        style={pulsing ? { animation: `beat ${String(1 / beats)}s ease-in-out infinite` } : undefined}
      />
      {link.beats_said}
    </span>
  );
}
